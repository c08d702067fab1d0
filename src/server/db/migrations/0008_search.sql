-- what is searched of a prospect by any part: its name, every site, its kinds and introduction; the row is the prospect's number
CREATE VIRTUAL TABLE `prospect_text` USING fts5(`name`, `sites`, `words`, tokenize = 'trigram', columnsize = 0);
