CREATE TABLE `product_news` (
	`id` text PRIMARY KEY NOT NULL,
	`product` text NOT NULL,
	`at` integer NOT NULL,
	`subject` text NOT NULL,
	`news` text NOT NULL,
	`told_to` text,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `product_news_untold` ON `product_news` (`id`) WHERE "product_news"."told_to" IS NOT NULL;