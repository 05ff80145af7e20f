-- Files that were ordered together; nothing for those that were ordered alone.
ALTER TABLE exports ADD COLUMN batch text;
