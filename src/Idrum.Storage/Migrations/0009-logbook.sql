-- The logbook: what a job is found by as words, as facts, and what of a closed job is counted. All of it is made from the log.
CREATE TABLE job_text (
    id     INTEGER PRIMARY KEY,
    job_id TEXT NOT NULL UNIQUE REFERENCES job (job_id) ON DELETE CASCADE,
    body   TEXT NOT NULL
) STRICT;

CREATE VIRTUAL TABLE job_words USING fts5 (body, content = 'job_text', content_rowid = 'id', tokenize = 'unicode61 remove_diacritics 2', prefix = '1 2 3');

-- What a customer's removal takes out does not stay in the index.
INSERT INTO job_words (job_words, rank) VALUES ('secure-delete', 1);

CREATE TRIGGER job_text_in AFTER INSERT ON job_text BEGIN
    INSERT INTO job_words (rowid, body) VALUES (new.id, new.body);
END;

CREATE TRIGGER job_text_out AFTER DELETE ON job_text BEGIN
    INSERT INTO job_words (job_words, rowid, body) VALUES ('delete', old.id, old.body);
END;

CREATE TRIGGER job_text_new AFTER UPDATE ON job_text BEGIN
    INSERT INTO job_words (job_words, rowid, body) VALUES ('delete', old.id, old.body);
    INSERT INTO job_words (rowid, body) VALUES (new.id, new.body);
END;

CREATE TABLE job_fact (
    what   TEXT NOT NULL,
    value  TEXT NOT NULL,
    job_id TEXT NOT NULL REFERENCES job (job_id) ON DELETE CASCADE,
    PRIMARY KEY (what, value, job_id)
) STRICT, WITHOUT ROWID;

CREATE INDEX job_fact_job ON job_fact (job_id);
CREATE INDEX job_last ON job (last_at);
CREATE INDEX event_arrived ON event (arrived) WHERE arrived <> '';
CREATE INDEX job_layout ON job (layout_id, last_at);
CREATE INDEX job_return ON job (return_by) WHERE return_by IS NOT NULL;
ALTER TABLE job ADD COLUMN record TEXT NOT NULL DEFAULT '';
