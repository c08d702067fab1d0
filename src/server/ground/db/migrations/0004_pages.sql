CREATE TABLE `page_checks` (
	`address` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`status` integer NOT NULL,
	`fault` text
) STRICT;
--> statement-breakpoint
-- what was sold before stock and stepped prices were counted
UPDATE `products` SET `sold` = coalesce((SELECT sum(l.`quantity`) FROM `order_lines` l JOIN `orders` o ON o.`id` = l.`order_id` WHERE l.`product` = `products`.`id` AND o.`test` = 0 AND o.`event` = 'sale'), 0);
