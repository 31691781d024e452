-- Plans that were carried out on copies.
CREATE TABLE IF NOT EXISTS rehearsal (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS rehearsal_by_order ON rehearsal (ordinal DESC);
CREATE INDEX IF NOT EXISTS rehearsal_by_state ON rehearsal (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS rehearsal_by_application ON rehearsal (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS rehearsal_by_site ON rehearsal (application, stage, site, ordinal DESC);
