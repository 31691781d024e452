-- Sites in waves, and files that are given as evidence.
CREATE TABLE IF NOT EXISTS waves (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS waves_by_order ON waves (ordinal DESC);
CREATE INDEX IF NOT EXISTS waves_by_state ON waves (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS waves_by_application ON waves (application, ordinal DESC);
CREATE TABLE IF NOT EXISTS evidence (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS evidence_by_order ON evidence (ordinal DESC);
CREATE INDEX IF NOT EXISTS evidence_by_application ON evidence (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS evidence_by_site ON evidence (application, stage, site, ordinal DESC);
