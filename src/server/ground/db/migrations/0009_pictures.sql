CREATE TABLE `pictured` (
	`id` text PRIMARY KEY NOT NULL,
	`reference` text NOT NULL,
	`payment` text NOT NULL,
	`at` integer NOT NULL,
	`day` text NOT NULL,
	`key` text NOT NULL,
	`product` text NOT NULL,
	`currency` text NOT NULL,
	`amount` integer NOT NULL,
	`visit` text,
	`visitor` text,
	`coupon` text,
	`affiliate` text,
	`reason` text NOT NULL,
	`content` text NOT NULL,
	`misfit` text DEFAULT '' NOT NULL,
	`state` text DEFAULT 'open' NOT NULL,
	`order_id` text,
	`decided_at` integer,
	`decided_by` text,
	`note` text DEFAULT '' NOT NULL,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "pictured_amount" CHECK("pictured"."amount" >= 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `pictured_once` ON `pictured` (`reference`,`payment`);--> statement-breakpoint
CREATE INDEX `pictured_open` ON `pictured` (`state`,`at`,`id`);--> statement-breakpoint
ALTER TABLE `keys` ADD `pictures` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `clicks_per_address` integer DEFAULT 3;--> statement-breakpoint
ALTER TABLE `rates` ADD `ended_for` text;--> statement-breakpoint
ALTER TABLE `rates` ADD `until_saved` integer;--> statement-breakpoint
ALTER TABLE `runs` ADD `approval_above` integer;--> statement-breakpoint
ALTER TABLE `sets` ADD `removal` text;--> statement-breakpoint
ALTER TABLE `visits` ADD `uncounted` text;--> statement-breakpoint
ALTER TABLE `visits` ADD `address` text;--> statement-breakpoint
-- who used the picture so far goes on using it
UPDATE `keys` SET `pictures` = 1 WHERE `id` IN (SELECT `key` FROM `reports` WHERE `call` = 'picture' AND `outcome` IN ('recorded', 'already-recorded'));
--> statement-breakpoint
UPDATE `runs` SET `approval_above` = (SELECT `approval_above` FROM `programme`) WHERE `state` IN ('draft', 'approved');
--> statement-breakpoint
UPDATE `rates` SET `until_saved` = `valid_until` WHERE `ended_at` IS NULL;
