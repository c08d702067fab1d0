CREATE TABLE `quotes` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text NOT NULL,
	`quantity` integer NOT NULL,
	`price` integer NOT NULL,
	`currency` text NOT NULL,
	`at` integer NOT NULL,
	`until` integer NOT NULL,
	`order_id` text,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "quotes_quantity" CHECK("quotes"."quantity" > 0)
) STRICT;
--> statement-breakpoint
CREATE INDEX `quotes_open` ON `quotes` (`product`,`until`) WHERE "quotes"."order_id" IS NULL;--> statement-breakpoint
CREATE TABLE `subscriptions` (
	`reference` text PRIMARY KEY NOT NULL,
	`order_id` text NOT NULL,
	`product` text NOT NULL,
	`affiliate` text,
	`visit` text,
	`email` text DEFAULT '' NOT NULL,
	`started_at` integer NOT NULL,
	`number` integer DEFAULT 1 NOT NULL,
	`next_at` integer,
	`noticed` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `orders`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `subscriptions_next` ON `subscriptions` (`next_at`) WHERE "subscriptions"."next_at" IS NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `fee_ppm` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `programme` ADD `fee_fixed` integer DEFAULT 0 NOT NULL;