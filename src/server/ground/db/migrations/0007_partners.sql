CREATE TABLE `invites` (
	`id` text PRIMARY KEY NOT NULL,
	`prospect` text NOT NULL,
	`at` integer NOT NULL,
	`day` text NOT NULL,
	`by` text NOT NULL,
	`message` text NOT NULL,
	`card` text,
	`group_id` text,
	`tags` text NOT NULL,
	`product` text,
	`state` text NOT NULL,
	`state_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`fault` text,
	`affiliate` text,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `invites_prospect` ON `invites` (`prospect`,`at`);--> statement-breakpoint
CREATE INDEX `invites_state` ON `invites` (`state`,`at`);--> statement-breakpoint
CREATE INDEX `invites_day` ON `invites` (`day`);--> statement-breakpoint
CREATE TABLE `prospect_sites` (
	`host` text NOT NULL,
	`prospect` integer NOT NULL,
	`search` text NOT NULL,
	PRIMARY KEY(`host`, `prospect`, `search`),
	FOREIGN KEY (`prospect`) REFERENCES `prospects`(`n`) ON UPDATE no action ON DELETE cascade
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `prospect_sites_prospect` ON `prospect_sites` (`prospect`);--> statement-breakpoint
CREATE INDEX `prospect_sites_search` ON `prospect_sites` (`search`);--> statement-breakpoint
CREATE TABLE `prospect_tags` (
	`prospect` integer NOT NULL,
	`tag` text NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	PRIMARY KEY(`prospect`, `tag`),
	FOREIGN KEY (`prospect`) REFERENCES `prospects`(`n`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`tag`) REFERENCES `sets`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `prospects` (
	`n` integer PRIMARY KEY NOT NULL,
	`id` text NOT NULL,
	`name` text NOT NULL,
	`name_key` text NOT NULL,
	`country` text NOT NULL,
	`sites` text NOT NULL,
	`kinds` text NOT NULL,
	`audience` integer NOT NULL,
	`intro` text NOT NULL,
	`sales` integer NOT NULL,
	`refunds` integer NOT NULL,
	`since` text NOT NULL,
	`standing` integer NOT NULL,
	`vouched` text DEFAULT '' NOT NULL,
	`changed_at` integer NOT NULL,
	`state` text DEFAULT 'never' NOT NULL,
	`affiliate` text,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `prospects_id_unique` ON `prospects` (`id`);--> statement-breakpoint
CREATE INDEX `prospects_standing` ON `prospects` (`standing`,`n`);--> statement-breakpoint
CREATE INDEX `prospects_name` ON `prospects` (`name_key`);--> statement-breakpoint
CREATE INDEX `prospects_state` ON `prospects` (`state`,`standing`,`n`);--> statement-breakpoint
CREATE INDEX `prospects_country` ON `prospects` (`country`,`standing`,`n`);--> statement-breakpoint
CREATE INDEX `prospects_affiliate` ON `prospects` (`affiliate`) WHERE "prospects"."affiliate" IS NOT NULL;--> statement-breakpoint
CREATE TABLE `registry_sync` (
	`id` integer PRIMARY KEY NOT NULL,
	`after_id` text,
	`begun_at` integer,
	`done_at` integer,
	`fault` text,
	`fault_at` integer,
	`outcomes` integer DEFAULT 0 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `acceptances` (
	`policy` text NOT NULL,
	`affiliate` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`policy`, `affiliate`),
	FOREIGN KEY (`policy`) REFERENCES `policies`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `acceptances_affiliate` ON `acceptances` (`affiliate`);--> statement-breakpoint
CREATE TABLE `entry_words` (
	`id` text PRIMARY KEY NOT NULL,
	`offer` text NOT NULL,
	`at` integer NOT NULL,
	`from_whom` text NOT NULL,
	`by` text NOT NULL,
	`text` text NOT NULL,
	FOREIGN KEY (`offer`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `entry_words_offer` ON `entry_words` (`offer`,`at`);--> statement-breakpoint
CREATE TABLE `notices` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text,
	`kind` text NOT NULL,
	`title` text NOT NULL,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `notices_at` ON `notices` (`at`);--> statement-breakpoint
CREATE TABLE `offers` (
	`id` text PRIMARY KEY NOT NULL,
	`slug` text NOT NULL,
	`headline` text NOT NULL,
	`about` text NOT NULL,
	`benefits` text NOT NULL,
	`language` text DEFAULT 'en' NOT NULL,
	`products` text NOT NULL,
	`category` text NOT NULL,
	`live` integer DEFAULT false NOT NULL,
	`entry` text DEFAULT 'none' NOT NULL,
	`entry_at` integer,
	`submitted_at` integer,
	`fault` text,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `offers_slug` ON `offers` (`slug`);--> statement-breakpoint
CREATE TABLE `policies` (
	`id` text PRIMARY KEY NOT NULL,
	`number` integer NOT NULL,
	`state` text NOT NULL,
	`content` text NOT NULL,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`published_at` integer,
	`holds_from` integer,
	`closed_at` integer,
	`reminded_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `policies_number_unique` ON `policies` (`number`);--> statement-breakpoint
CREATE TABLE `bulk_acts` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`what` text NOT NULL,
	`to_value` text,
	`before` text NOT NULL,
	`undone_at` integer
) STRICT;
--> statement-breakpoint
CREATE INDEX `bulk_acts_at` ON `bulk_acts` (`at`);--> statement-breakpoint
CREATE TABLE `segments` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`filter` text NOT NULL,
	`columns` text NOT NULL,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `templates` (
	`id` text PRIMARY KEY NOT NULL,
	`use` text NOT NULL,
	`name` text NOT NULL,
	`subject` text NOT NULL,
	`body` text NOT NULL,
	`by` text NOT NULL,
	`created_at` integer NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `trusts` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`at_sale` integer NOT NULL,
	`by` text NOT NULL,
	`ended_at` integer,
	`why` text,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `trusts_affiliate` ON `trusts` (`affiliate`,`valid_from`);--> statement-breakpoint
ALTER TABLE `affiliates` ADD `kind` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `affiliates` ADD `looked_after` text;--> statement-breakpoint
ALTER TABLE `affiliates` ADD `newsletters` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `affiliates` ADD `mail_fault` text;--> statement-breakpoint
ALTER TABLE `affiliates` ADD `paused_for` text;--> statement-breakpoint
ALTER TABLE `programme` ADD `categories` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `kinds_wanted` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `kinds_unwanted` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `vouched_in` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `refund_line` integer DEFAULT 120000 NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `invite_days` integer DEFAULT 30 NOT NULL;