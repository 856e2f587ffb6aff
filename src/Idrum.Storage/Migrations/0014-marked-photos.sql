-- Jobs whose photos were marked, found without reading all acts.
CREATE INDEX event_marked ON event (job_id) WHERE instr(body, '"photo-marked"') > 0;
