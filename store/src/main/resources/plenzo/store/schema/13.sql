-- Versions that go to a stage again and again, and those on their way without anybody starting that.
CREATE TABLE IF NOT EXISTS repeat (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS repeat_by_order ON repeat (ordinal DESC);
CREATE INDEX IF NOT EXISTS repeat_by_state ON repeat (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS repeat_by_application ON repeat (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS repeat_by_site ON repeat (application, stage, site, ordinal DESC);
CREATE TABLE IF NOT EXISTS errand (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS errand_by_order ON errand (ordinal DESC);
CREATE INDEX IF NOT EXISTS errand_by_state ON errand (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS errand_by_application ON errand (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS errand_by_site ON errand (application, stage, site, ordinal DESC);
