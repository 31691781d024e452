-- What people are told of, who is called when, and who was.
CREATE TABLE IF NOT EXISTS following (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS following_by_order ON following (ordinal DESC);
CREATE INDEX IF NOT EXISTS following_by_state ON following (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS following_by_application ON following (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS following_by_site ON following (application, stage, site, ordinal DESC);
CREATE TABLE IF NOT EXISTS call_order (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS call_order_by_order ON call_order (ordinal DESC);
CREATE INDEX IF NOT EXISTS call_order_by_state ON call_order (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS call_order_by_application ON call_order (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS call_order_by_site ON call_order (application, stage, site, ordinal DESC);
CREATE TABLE IF NOT EXISTS summons (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS summons_by_order ON summons (ordinal DESC);
CREATE INDEX IF NOT EXISTS summons_by_state ON summons (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS summons_by_application ON summons (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS summons_by_site ON summons (application, stage, site, ordinal DESC);
