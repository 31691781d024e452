-- What stays by a note, and what was cleared.
CREATE TABLE IF NOT EXISTS keeping (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS keeping_by_order ON keeping (ordinal DESC);
CREATE INDEX IF NOT EXISTS keeping_by_state ON keeping (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS keeping_by_application ON keeping (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS keeping_by_site ON keeping (application, stage, site, ordinal DESC);
-- Copies of what editing stages hold, by application.
CREATE TABLE IF NOT EXISTS source_copies (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id VARCHAR(400) PRIMARY KEY, revision INTEGER NOT NULL, state VARCHAR(100), application VARCHAR(100), stage VARCHAR(100), site VARCHAR(100), at TIMESTAMP(6) WITH TIME ZONE DEFAULT CURRENT_TIMESTAMP NOT NULL, body CLOB NOT NULL);
CREATE INDEX IF NOT EXISTS source_copies_by_order ON source_copies (ordinal DESC);
CREATE INDEX IF NOT EXISTS source_copies_by_state ON source_copies (state, ordinal DESC);
CREATE INDEX IF NOT EXISTS source_copies_by_application ON source_copies (application, ordinal DESC);
CREATE INDEX IF NOT EXISTS source_copies_by_site ON source_copies (application, stage, site, ordinal DESC);
-- Names of people stand beside the chain of the history, with signs in their place in it.
ALTER TABLE history ADD COLUMN IF NOT EXISTS chained_actor VARCHAR(200);
ALTER TABLE history ADD COLUMN IF NOT EXISTS chained_text VARCHAR(100000);
CREATE TABLE IF NOT EXISTS called (ordinal BIGINT GENERATED ALWAYS AS IDENTITY, id CHAR(32) PRIMARY KEY, salt CHAR(64), word VARCHAR(1000) NOT NULL, login VARCHAR(200) NOT NULL);
CREATE INDEX IF NOT EXISTS called_by_login ON called (login);
CREATE INDEX IF NOT EXISTS called_by_order ON called (ordinal DESC);
