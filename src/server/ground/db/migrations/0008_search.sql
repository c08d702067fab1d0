-- what is searched of a prospect by any part: its name, every site, its kinds and introduction; the row is the prospect's number
CREATE VIRTUAL TABLE `prospect_text` USING fts5(`name`, `sites`, `words`, tokenize = 'trigram', columnsize = 0);
--> statement-breakpoint
-- who has joined is found by the host of the e-mail address
CREATE INDEX `affiliates_mail_host` ON `affiliates` (substr(`email_key`, instr(`email_key`, '@') + 1));
