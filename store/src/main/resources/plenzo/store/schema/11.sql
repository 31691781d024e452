-- Freezes of stages, and runs that are to start by themselves.
CREATE TABLE IF NOT EXISTS freeze (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS freeze_by_order ON freeze (ordinal DESC);
CREATE INDEX IF NOT EXISTS freeze_by_state ON freeze (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS freeze_by_application ON freeze (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS freeze_by_site ON freeze (application, stage, site, ordinal DESC);
CREATE TABLE IF NOT EXISTS schedule (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS schedule_by_order ON schedule (ordinal DESC);
CREATE INDEX IF NOT EXISTS schedule_by_state ON schedule (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS schedule_by_application ON schedule (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS schedule_by_site ON schedule (application, stage, site, ordinal DESC);
