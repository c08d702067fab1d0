CREATE TABLE `affiliates` (
	`id` text PRIMARY KEY NOT NULL,
	`handle` text NOT NULL,
	`name` text NOT NULL,
	`email` text NOT NULL,
	`email_key` text NOT NULL,
	`country` text NOT NULL,
	`address` text DEFAULT '' NOT NULL,
	`sites` text NOT NULL,
	`audience` text DEFAULT '' NOT NULL,
	`state` text DEFAULT 'applied' NOT NULL,
	`timing` text DEFAULT 'after-hold' NOT NULL,
	`password` text,
	`payee_holder` text DEFAULT '' NOT NULL,
	`payee_iban` text DEFAULT '' NOT NULL,
	`payee_address` text DEFAULT '' NOT NULL,
	`created_at` integer NOT NULL,
	`joined_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `affiliates_handle_unique` ON `affiliates` (`handle`);--> statement-breakpoint
CREATE UNIQUE INDEX `affiliates_email_key_unique` ON `affiliates` (`email_key`);--> statement-breakpoint
CREATE INDEX `affiliates_state` ON `affiliates` (`state`,`id`);--> statement-breakpoint
CREATE INDEX `affiliates_name` ON `affiliates` (`name`,`id`);--> statement-breakpoint
CREATE INDEX `affiliates_created` ON `affiliates` (`created_at`,`id`);--> statement-breakpoint
CREATE TABLE `answers` (
	`key` text NOT NULL,
	`actor` text NOT NULL,
	`call` text NOT NULL,
	`body_hash` text NOT NULL,
	`status` integer NOT NULL,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`key`, `actor`, `call`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `applications` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`product` text,
	`note` text DEFAULT '' NOT NULL,
	`channels` text DEFAULT '' NOT NULL,
	`state` text DEFAULT 'waiting' NOT NULL,
	`timing` text,
	`reason` text,
	`decided_at` integer,
	`decided_by` text,
	`created_at` integer NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `applications_queue` ON `applications` (`state`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `applications_affiliate` ON `applications` (`affiliate`);--> statement-breakpoint
CREATE TABLE `approvals` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`product` text,
	`timing` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `approvals_affiliate` ON `approvals` (`affiliate`);--> statement-breakpoint
CREATE TABLE `audit` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`action` text NOT NULL,
	`subject` text NOT NULL,
	`before` text,
	`after` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `audit_subject` ON `audit` (`subject`,`at`);--> statement-breakpoint
CREATE INDEX `audit_at` ON `audit` (`at`,`id`);--> statement-breakpoint
CREATE TABLE `click_days` (
	`day` text NOT NULL,
	`product` text NOT NULL,
	`clicks` integer NOT NULL,
	PRIMARY KEY(`day`, `product`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `commissions` (
	`id` text PRIMARY KEY NOT NULL,
	`order_id` text NOT NULL,
	`affiliate` text NOT NULL,
	`granted` integer NOT NULL,
	`timing` text NOT NULL,
	`sold_at` integer NOT NULL,
	`clears_at` integer NOT NULL,
	`refundable_until` integer NOT NULL,
	`state` text NOT NULL,
	`state_since` integer NOT NULL,
	`state_by` text NOT NULL,
	`held` integer NOT NULL,
	`cleared` integer NOT NULL,
	`in_run` integer NOT NULL,
	`paid` integer NOT NULL,
	`adjusted` integer DEFAULT 0 NOT NULL,
	`given_up` integer DEFAULT 0 NOT NULL,
	`declined` text,
	`declined_amount` integer DEFAULT 0 NOT NULL,
	`declined_day` text,
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `commissions_order_id_unique` ON `commissions` (`order_id`);--> statement-breakpoint
CREATE INDEX `commissions_due` ON `commissions` (`clears_at`) WHERE "commissions"."held" > 0;--> statement-breakpoint
CREATE INDEX `commissions_affiliate` ON `commissions` (`affiliate`,`sold_at`);--> statement-breakpoint
CREATE INDEX `commissions_open` ON `commissions` (`affiliate`) WHERE "commissions"."cleared" <> 0;--> statement-breakpoint
CREATE INDEX `commissions_state` ON `commissions` (`state`,`sold_at`,`id`);--> statement-breakpoint
CREATE INDEX `commissions_declined` ON `commissions` (`declined_day`,`declined_amount`) WHERE "commissions"."declined_day" IS NOT NULL;--> statement-breakpoint
CREATE TABLE `entries` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`day` text NOT NULL,
	`event` text NOT NULL,
	`memo` text NOT NULL,
	`by` text NOT NULL,
	`run` text,
	`payment` text,
	`refund` text,
	`order_id` text,
	`once` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `entries_once_unique` ON `entries` (`once`);--> statement-breakpoint
CREATE INDEX `entries_at` ON `entries` (`at`,`id`);--> statement-breakpoint
CREATE TABLE `entry_lines` (
	`entry` text NOT NULL,
	`position` integer NOT NULL,
	`account` text NOT NULL,
	`affiliate` text,
	`commission` text,
	`amount` integer NOT NULL,
	PRIMARY KEY(`entry`, `position`),
	FOREIGN KEY (`entry`) REFERENCES `entries`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "entry_lines_amount" CHECK("entry_lines"."amount" <> 0)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `entry_lines_account` ON `entry_lines` (`account`,`affiliate`,`amount`);--> statement-breakpoint
CREATE INDEX `entry_lines_commission` ON `entry_lines` (`commission`);--> statement-breakpoint
CREATE TABLE `invitations` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`created_at` integer NOT NULL,
	`used_at` integer
) STRICT;
--> statement-breakpoint
CREATE TABLE `keys` (
	`id` text PRIMARY KEY NOT NULL,
	`label` text NOT NULL,
	`secret` text NOT NULL,
	`created_at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `links` (
	`code` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`product` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `links_pair` ON `links` (`affiliate`,`product`);--> statement-breakpoint
CREATE TABLE `messages` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`to_address` text NOT NULL,
	`affiliate` text,
	`kind` text NOT NULL,
	`subject` text NOT NULL,
	`body` text NOT NULL,
	`state` text DEFAULT 'waiting' NOT NULL,
	`fault` text,
	`leaves_at` integer NOT NULL,
	`subject_of` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `messages_state` ON `messages` (`state`,`leaves_at`);--> statement-breakpoint
CREATE INDEX `messages_subject` ON `messages` (`subject_of`);--> statement-breakpoint
CREATE INDEX `messages_affiliate` ON `messages` (`affiliate`,`at`);--> statement-breakpoint
CREATE TABLE `order_lines` (
	`order_id` text NOT NULL,
	`position` integer NOT NULL,
	`product` text NOT NULL,
	`quantity` integer NOT NULL,
	`amount` integer NOT NULL,
	`discount` integer NOT NULL,
	`value` integer NOT NULL,
	`base` integer NOT NULL,
	`value_left` integer NOT NULL,
	`reward` text,
	`commission` integer NOT NULL,
	`commission_left` integer NOT NULL,
	PRIMARY KEY(`order_id`, `position`),
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "order_lines_left" CHECK("order_lines"."value_left" BETWEEN 0 AND "order_lines"."value")
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `order_lines_product` ON `order_lines` (`product`);--> statement-breakpoint
CREATE TABLE `orders` (
	`id` text PRIMARY KEY NOT NULL,
	`reference` text NOT NULL,
	`payment` text NOT NULL,
	`placed_at` integer NOT NULL,
	`day` text NOT NULL,
	`received_at` integer NOT NULL,
	`currency` text NOT NULL,
	`rate_micros` integer NOT NULL,
	`value` integer NOT NULL,
	`base` integer NOT NULL,
	`way` text NOT NULL,
	`visit` text,
	`affiliate` text,
	`credited_by` text,
	`reason` text NOT NULL,
	`credit` text NOT NULL,
	`working` text,
	`granted` integer DEFAULT 0 NOT NULL,
	`customer` text,
	`test` integer DEFAULT false NOT NULL,
	`content` text NOT NULL,
	`other_way` text,
	CONSTRAINT "orders_value" CHECK("orders"."value" >= 0 AND "orders"."base" >= 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `orders_reference` ON `orders` (`reference`,`payment`);--> statement-breakpoint
CREATE INDEX `orders_placed` ON `orders` (`placed_at`,`id`);--> statement-breakpoint
CREATE INDEX `orders_affiliate` ON `orders` (`affiliate`,`placed_at`);--> statement-breakpoint
CREATE INDEX `orders_day` ON `orders` (`day`,`test`,`base`,`granted`,`affiliate`);--> statement-breakpoint
CREATE TABLE `payment_items` (
	`payment` text NOT NULL,
	`commission` text NOT NULL,
	`amount` integer NOT NULL,
	PRIMARY KEY(`payment`, `commission`),
	FOREIGN KEY (`payment`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`commission`) REFERENCES `commissions`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `payments` (
	`id` text PRIMARY KEY NOT NULL,
	`run` text NOT NULL,
	`affiliate` text NOT NULL,
	`amount` integer NOT NULL,
	`holder` text NOT NULL,
	`iban` text NOT NULL,
	`end_to_end` text NOT NULL,
	`state` text NOT NULL,
	`reason` text,
	`state_since` integer NOT NULL,
	FOREIGN KEY (`run`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payments_amount" CHECK("payments"."amount" > 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `payments_end_to_end_unique` ON `payments` (`end_to_end`);--> statement-breakpoint
CREATE UNIQUE INDEX `payments_once` ON `payments` (`run`,`affiliate`);--> statement-breakpoint
CREATE INDEX `payments_affiliate` ON `payments` (`affiliate`);--> statement-breakpoint
CREATE TABLE `products` (
	`id` text PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`description` text DEFAULT '' NOT NULL,
	`kind` text DEFAULT 'one-off' NOT NULL,
	`currency` text NOT NULL,
	`price` integer,
	`refund_days` integer DEFAULT 14 NOT NULL,
	`sales_page` text DEFAULT '' NOT NULL,
	`state` text DEFAULT 'draft' NOT NULL,
	`created_at` integer NOT NULL,
	`retired_at` integer,
	`version` integer DEFAULT 1 NOT NULL,
	CONSTRAINT "products_price" CHECK("products"."price" IS NULL OR "products"."price" >= 0),
	CONSTRAINT "products_refund" CHECK("products"."refund_days" BETWEEN 0 AND 365)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `products_code_unique` ON `products` (`code`);--> statement-breakpoint
CREATE TABLE `programme` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`contact` text NOT NULL,
	`intro` text DEFAULT '' NOT NULL,
	`base` text NOT NULL,
	`zone` text NOT NULL,
	`window_days` integer DEFAULT 30 NOT NULL,
	`buffer_days` integer DEFAULT 3 NOT NULL,
	`clearing` text DEFAULT 'automatic' NOT NULL,
	`minimum_payout` integer DEFAULT 0 NOT NULL,
	`approval_above` integer,
	`promise_days` integer DEFAULT 14 NOT NULL,
	`debtor_name` text DEFAULT '' NOT NULL,
	`debtor_iban` text DEFAULT '' NOT NULL,
	`landing_hosts` text DEFAULT '[]' NOT NULL,
	`demo` integer DEFAULT false NOT NULL,
	`clock_at` integer,
	`version` integer DEFAULT 1 NOT NULL,
	CONSTRAINT "programme_one" CHECK("programme"."id" = 1),
	CONSTRAINT "programme_minimum" CHECK("programme"."minimum_payout" >= 0)
) STRICT;
--> statement-breakpoint
CREATE TABLE `rate_days` (
	`currency` text NOT NULL,
	`day` text NOT NULL,
	`rate_micros` integer NOT NULL,
	PRIMARY KEY(`currency`, `day`),
	CONSTRAINT "rate_days_positive" CHECK("rate_days"."rate_micros" > 0)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `rates` (
	`id` text PRIMARY KEY NOT NULL,
	`rung` text NOT NULL,
	`who` text,
	`what` text NOT NULL,
	`product` text,
	`event` text NOT NULL,
	`reward` text NOT NULL,
	`label` text NOT NULL,
	`valid_from` integer NOT NULL,
	`valid_until` integer,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "rates_span" CHECK("rates"."valid_until" IS NULL OR "rates"."valid_until" >= "rates"."valid_from")
) STRICT;
--> statement-breakpoint
CREATE INDEX `rates_product` ON `rates` (`product`);--> statement-breakpoint
CREATE TABLE `refunds` (
	`id` text PRIMARY KEY NOT NULL,
	`reference` text NOT NULL,
	`order_id` text NOT NULL,
	`at` integer NOT NULL,
	`day` text NOT NULL,
	`kind` text NOT NULL,
	`value` integer NOT NULL,
	`base` integer NOT NULL,
	`reversed` integer NOT NULL,
	`content` text NOT NULL,
	`working` text NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `refunds_reference_unique` ON `refunds` (`reference`);--> statement-breakpoint
CREATE INDEX `refunds_order` ON `refunds` (`order_id`);--> statement-breakpoint
CREATE INDEX `refunds_day` ON `refunds` (`day`,`reversed`);--> statement-breakpoint
CREATE TABLE `reports` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`call` text NOT NULL,
	`way` text NOT NULL,
	`key` text,
	`reference` text,
	`outcome` text NOT NULL,
	`status` integer NOT NULL,
	`said` text NOT NULL,
	`body` text NOT NULL,
	`order_id` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `reports_outcome` ON `reports` (`outcome`,`at`);--> statement-breakpoint
CREATE INDEX `reports_order` ON `reports` (`order_id`);--> statement-breakpoint
CREATE TABLE `runs` (
	`id` text PRIMARY KEY NOT NULL,
	`number` integer NOT NULL,
	`state` text NOT NULL,
	`cutoff` integer NOT NULL,
	`minimum` integer NOT NULL,
	`created_at` integer NOT NULL,
	`created_by` text NOT NULL,
	`approved_at` integer,
	`approved_by` text,
	`sent_at` integer,
	`sent_by` text,
	`settled_at` integer,
	`promised_at` integer,
	`total` integer DEFAULT 0 NOT NULL,
	`payees` integer DEFAULT 0 NOT NULL,
	`file` text,
	`delivered_at` integer,
	`excluded` text DEFAULT '[]' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	CONSTRAINT "runs_minimum" CHECK("runs"."minimum" >= 0)
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `runs_number_unique` ON `runs` (`number`);--> statement-breakpoint
CREATE TABLE `seen_messages` (
	`id` text NOT NULL,
	`key` text NOT NULL,
	`body_hash` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`key`, `id`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `sessions` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL,
	`seen_at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE INDEX `sessions_person` ON `sessions` (`person`);--> statement-breakpoint
CREATE TABLE `staff` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`email` text NOT NULL,
	`role` text NOT NULL,
	`password` text NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`created_at` integer NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `staff_email_unique` ON `staff` (`email`);--> statement-breakpoint
CREATE TABLE `status_reports` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`content` text NOT NULL,
	`lines` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `visits` (
	`id` text PRIMARY KEY NOT NULL,
	`link` text NOT NULL,
	`affiliate` text NOT NULL,
	`product` text NOT NULL,
	`at` integer NOT NULL,
	`visitor` text,
	`landing` text NOT NULL,
	`sub_ids` text,
	`barred` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `visits_affiliate` ON `visits` (`affiliate`,`at`);--> statement-breakpoint
CREATE INDEX `visits_visitor` ON `visits` (`visitor`,`at`) WHERE "visits"."visitor" IS NOT NULL;