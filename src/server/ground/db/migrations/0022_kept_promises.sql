ALTER TABLE `programme` ADD `notice_before` integer;--> statement-breakpoint
ALTER TABLE `programme` ADD `notice_before_until` integer;--> statement-breakpoint
ALTER TABLE `referrals` ADD `until_set` integer;--> statement-breakpoint
UPDATE `referrals` SET `until_set` = `valid_until`;
