-- Addresses that are told what happens, and what is on its way to them.
CREATE TABLE IF NOT EXISTS webhook (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS webhook_by_order ON webhook (ordinal DESC);
CREATE INDEX IF NOT EXISTS webhook_by_state ON webhook (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS webhook_by_application ON webhook (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS webhook_by_site ON webhook (application, stage, site, ordinal DESC);
CREATE TABLE IF NOT EXISTS delivery (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS delivery_by_order ON delivery (ordinal DESC);
CREATE INDEX IF NOT EXISTS delivery_by_state ON delivery (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS delivery_by_application ON delivery (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS delivery_by_site ON delivery (application, stage, site, ordinal DESC);
