-- Lists of drafts show the open ones first.
CREATE INDEX IF NOT EXISTS draft_by_state ON draft (state, ordinal DESC);
