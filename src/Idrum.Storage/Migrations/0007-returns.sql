-- Until when the first of what is left over of a job is taken back.
ALTER TABLE job ADD COLUMN return_by TEXT;
