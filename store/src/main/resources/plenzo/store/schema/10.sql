-- Changes of what guards production.
CREATE TABLE IF NOT EXISTS proposal (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS proposal_by_order ON proposal (ordinal DESC);
CREATE INDEX IF NOT EXISTS proposal_by_state ON proposal (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS proposal_by_application ON proposal (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS proposal_by_site ON proposal (application, stage, site, ordinal DESC);
