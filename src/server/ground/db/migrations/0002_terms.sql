CREATE TABLE `co_owners` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text NOT NULL,
	`payee` text NOT NULL,
	`ppm` integer NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`by` text NOT NULL,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payee`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `co_owners_product` ON `co_owners` (`product`);--> statement-breakpoint
CREATE TABLE `drafts` (
	`id` text PRIMARY KEY NOT NULL,
	`by` text NOT NULL,
	`state` text DEFAULT 'open' NOT NULL,
	`valid_from` integer,
	`changes` text NOT NULL,
	`created_at` integer NOT NULL,
	`saved_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE INDEX `drafts_by` ON `drafts` (`by`,`state`);--> statement-breakpoint
CREATE TABLE `funnel_steps` (
	`code` text PRIMARY KEY NOT NULL,
	`funnel` text NOT NULL,
	`product` text NOT NULL,
	`position` integer NOT NULL,
	`price` integer,
	`on_yes` text,
	`on_no` text,
	FOREIGN KEY (`funnel`) REFERENCES `funnels`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "funnel_steps_price" CHECK("funnel_steps"."price" IS NULL OR "funnel_steps"."price" >= 0)
) STRICT;
--> statement-breakpoint
CREATE INDEX `funnel_steps_funnel` ON `funnel_steps` (`funnel`,`position`);--> statement-breakpoint
CREATE TABLE `funnels` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`opening` text NOT NULL,
	`first` text,
	`created_at` integer NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`opening`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `funnels_opening` ON `funnels` (`opening`);--> statement-breakpoint
CREATE TABLE `locks` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text NOT NULL,
	`event` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`by` text NOT NULL,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `locks_product` ON `locks` (`product`);--> statement-breakpoint
CREATE TABLE `memberships` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`of` text NOT NULL,
	`set_id` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`by` text NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`set_id`) REFERENCES `sets`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `memberships_set` ON `memberships` (`set_id`,`affiliate`);--> statement-breakpoint
CREATE INDEX `memberships_affiliate` ON `memberships` (`affiliate`);--> statement-breakpoint
CREATE TABLE `pauses` (
	`id` text PRIMARY KEY NOT NULL,
	`set_id` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`by` text NOT NULL,
	FOREIGN KEY (`set_id`) REFERENCES `sets`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `pauses_set` ON `pauses` (`set_id`);--> statement-breakpoint
CREATE TABLE `referrals` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`by` text NOT NULL,
	`ppm` integer NOT NULL,
	`of` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`set_by` text NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`by`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `referrals_affiliate` ON `referrals` (`affiliate`);--> statement-breakpoint
CREATE INDEX `referrals_by` ON `referrals` (`by`);--> statement-breakpoint
CREATE TABLE `rehearsals` (
	`id` text PRIMARY KEY NOT NULL,
	`draft` text NOT NULL,
	`draft_version` integer NOT NULL,
	`by` text NOT NULL,
	`at` integer NOT NULL,
	`from_day` text NOT NULL,
	`to_day` text NOT NULL,
	`state` text NOT NULL,
	`done` integer DEFAULT 0 NOT NULL,
	`total` integer DEFAULT 0 NOT NULL,
	`took_ms` integer,
	`result` text,
	FOREIGN KEY (`draft`) REFERENCES `drafts`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `rehearsals_draft` ON `rehearsals` (`draft`,`at`);--> statement-breakpoint
CREATE TABLE `sets` (
	`id` text PRIMARY KEY NOT NULL,
	`of` text NOT NULL,
	`name` text NOT NULL,
	`about` text DEFAULT '' NOT NULL,
	`colour` text DEFAULT '' NOT NULL,
	`open_join` integer DEFAULT false NOT NULL,
	`open_change` integer DEFAULT false NOT NULL,
	`standard` integer DEFAULT false NOT NULL,
	`created_at` integer NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE INDEX `sets_of` ON `sets` (`of`,`name`);--> statement-breakpoint
CREATE TABLE `tag_orders` (
	`id` text PRIMARY KEY NOT NULL,
	`valid_from` integer NOT NULL,
	`tags` text NOT NULL,
	`by` text NOT NULL
) STRICT;
--> statement-breakpoint
ALTER TABLE `order_lines` ADD `approved` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `order_lines` ADD `step` text;--> statement-breakpoint
ALTER TABLE `orders` ADD `event` text DEFAULT 'sale' NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `number` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `subscription` text;--> statement-breakpoint
ALTER TABLE `orders` ADD `resolved_at` integer;--> statement-breakpoint
CREATE INDEX `orders_subscription` ON `orders` (`subscription`,`number`) WHERE "orders"."subscription" IS NOT NULL;--> statement-breakpoint
ALTER TABLE `products` ADD `details` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `products` ADD `sold` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `notice_weeks` integer DEFAULT 2 NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `referral_ppm` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `referral_of` text DEFAULT 'commission' NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `referral_months` integer;--> statement-breakpoint
ALTER TABLE `programme` ADD `low_earning` integer DEFAULT 200 NOT NULL;--> statement-breakpoint
ALTER TABLE `rates` ADD `mode` text DEFAULT 'base' NOT NULL;--> statement-breakpoint
ALTER TABLE `rates` ADD `payments` text;--> statement-breakpoint
ALTER TABLE `rates` ADD `cap` integer;--> statement-breakpoint
ALTER TABLE `rates` ADD `created_by` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `rates` ADD `ended_at` integer;--> statement-breakpoint
ALTER TABLE `rates` ADD `ended_by` text;--> statement-breakpoint
ALTER TABLE `rates` ADD `draft` text;--> statement-breakpoint
-- everyone is on exactly one card: the one that newcomers begin on is there from the start
INSERT INTO `sets` (`id`, `of`, `name`, `about`, `standard`, `created_at`) VALUES ('set_standard', 'card', 'Standard', 'The card that everybody begins on', 1, 0);
--> statement-breakpoint
UPDATE `orders` SET `resolved_at` = coalesce(json_extract(`working`, '$.at'), `placed_at`);
--> statement-breakpoint
UPDATE `order_lines` SET `approved` = 0 WHERE EXISTS (SELECT 1 FROM `orders` o WHERE o.`id` = `order_lines`.`order_id` AND json_extract(o.`working`, '$.lines[' || `order_lines`.`position` || '].reason') = 'not approved for this product');
