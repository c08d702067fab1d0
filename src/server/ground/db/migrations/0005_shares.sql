CREATE TABLE `files` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text,
	`use` text NOT NULL,
	`name` text NOT NULL,
	`type` text NOT NULL,
	`size` integer NOT NULL,
	`hash` text NOT NULL,
	`content` blob NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `files_product` ON `files` (`product`,`use`);--> statement-breakpoint
CREATE TABLE `share_lines` (
	`order_id` text NOT NULL,
	`position` integer NOT NULL,
	`kind` text NOT NULL,
	`payee` text NOT NULL,
	`ppm` integer NOT NULL,
	`of` text NOT NULL,
	`basis` integer NOT NULL,
	`amount` integer NOT NULL,
	`amount_left` integer NOT NULL,
	PRIMARY KEY(`order_id`, `position`, `kind`, `payee`),
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payee`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "share_lines_left" CHECK("share_lines"."amount_left" BETWEEN 0 AND "share_lines"."amount")
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
DROP INDEX `commissions_order_id_unique`;--> statement-breakpoint
ALTER TABLE `commissions` ADD `kind` text DEFAULT 'commission' NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `commissions_once` ON `commissions` (`order_id`,`kind`,`affiliate`);--> statement-breakpoint
CREATE UNIQUE INDEX `commissions_one` ON `commissions` (`order_id`) WHERE "commissions"."kind" = 'commission';--> statement-breakpoint
ALTER TABLE `affiliates` ADD `promotes` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `affiliates` ADD `brought_by` text;--> statement-breakpoint
ALTER TABLE `programme` ADD `summary` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `clicks_to` text;--> statement-breakpoint
ALTER TABLE `programme` ADD `brand` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `support_address` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `support_page` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `support_phone` text DEFAULT '' NOT NULL;