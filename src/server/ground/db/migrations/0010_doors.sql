ALTER TABLE `invitations` ADD `kind` text DEFAULT 'affiliate' NOT NULL;--> statement-breakpoint
ALTER TABLE `invitations` ADD `until` integer;--> statement-breakpoint
CREATE INDEX `invitations_person` ON `invitations` (`kind`,`affiliate`);--> statement-breakpoint
ALTER TABLE `messages` ADD `link_at` integer;--> statement-breakpoint
ALTER TABLE `messages` ADD `link` text;--> statement-breakpoint
ALTER TABLE `messages` ADD `tries` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `messages` ADD `tried_at` integer;--> statement-breakpoint
CREATE INDEX `messages_to` ON `messages` (`to_address`,`at`);--> statement-breakpoint
ALTER TABLE `programme` ADD `log_days` integer DEFAULT 180 NOT NULL;--> statement-breakpoint
ALTER TABLE `quotes` ADD `message` text;--> statement-breakpoint
CREATE UNIQUE INDEX `quotes_message_unique` ON `quotes` (`message`);--> statement-breakpoint
ALTER TABLE `reports` ADD `count` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `reports` ADD `slot` text;--> statement-breakpoint
CREATE UNIQUE INDEX `reports_slot_unique` ON `reports` (`slot`);--> statement-breakpoint
CREATE INDEX `reports_at` ON `reports` (`at`);--> statement-breakpoint
ALTER TABLE `applications` ADD `policy` integer;--> statement-breakpoint
ALTER TABLE `applications` ADD `before` text;
--> statement-breakpoint
-- where a link goes was a word in the text: of what still waits, the last such word was ours, the others somebody else's
UPDATE `messages` SET `link_at` = instr(`body`, char(10) || '{{password-link}}'), `body` = replace(`body`, char(10) || '{{password-link}}', char(10)) WHERE `state` = 'waiting' AND instr(`body`, char(10) || '{{password-link}}') > 0;
