CREATE TABLE `coupon_evidence` (
	`coupon` text NOT NULL,
	`kind` text NOT NULL,
	`first_at` integer NOT NULL,
	`last_at` integer NOT NULL,
	`times` integer NOT NULL,
	`by` text NOT NULL,
	PRIMARY KEY(`coupon`, `kind`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `coupons` (
	`id` text PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`gives` text NOT NULL,
	`value` integer NOT NULL,
	`words` text NOT NULL,
	`least` integer,
	`products` text NOT NULL,
	`landing` text NOT NULL,
	`terms` text NOT NULL,
	`owner` text,
	`audience` text NOT NULL,
	`applied` integer NOT NULL,
	`active` integer NOT NULL,
	`valid_from` integer,
	`valid_until` integer,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`owner`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `coupons_code` ON `coupons` (`code`);--> statement-breakpoint
CREATE INDEX `coupons_newest` ON `coupons` (`created_at`,`id`);--> statement-breakpoint
CREATE TABLE `creative_acts` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`what` text NOT NULL,
	`before` text NOT NULL,
	`undone_at` integer
) STRICT;
--> statement-breakpoint
CREATE TABLE `creative_products` (
	`product` text NOT NULL,
	`creative` text NOT NULL,
	PRIMARY KEY(`product`, `creative`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `creative_products_creative` ON `creative_products` (`creative`);--> statement-breakpoint
CREATE TABLE `creative_readers` (
	`reader` text NOT NULL,
	`creative` text NOT NULL,
	PRIMARY KEY(`reader`, `creative`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `creative_readers_creative` ON `creative_readers` (`creative`);--> statement-breakpoint
CREATE TABLE `creatives` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`subject` text NOT NULL,
	`products` text NOT NULL,
	`landing` text NOT NULL,
	`language` text NOT NULL,
	`audience` text NOT NULL,
	`active` integer NOT NULL,
	`valid_from` integer,
	`valid_until` integer,
	`note` text NOT NULL,
	`file` text,
	`poster` text,
	`width` integer,
	`height` integer,
	`texts` text NOT NULL,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`file`) REFERENCES `material_files`(`hash`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`poster`) REFERENCES `material_files`(`hash`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `creatives_newest` ON `creatives` (`created_at`,`id`) WHERE removed_at IS NULL;--> statement-breakpoint
CREATE INDEX `creatives_kind` ON `creatives` (`kind`,`created_at`,`id`) WHERE removed_at IS NULL;--> statement-breakpoint
CREATE TABLE `material_files` (
	`hash` text PRIMARY KEY NOT NULL,
	`type` text NOT NULL,
	`bytes` integer NOT NULL,
	`width` integer,
	`height` integer,
	`moving` integer NOT NULL,
	`seconds` integer,
	`as_webp` integer,
	`at` integer NOT NULL,
	`by` text NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `feed_keys` (
	`affiliate` text PRIMARY KEY NOT NULL,
	`digest` text NOT NULL,
	`sealed` text NOT NULL,
	`created_at` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE UNIQUE INDEX `feed_keys_digest_unique` ON `feed_keys` (`digest`);--> statement-breakpoint
CREATE TABLE `planned_changes` (
	`id` text PRIMARY KEY NOT NULL,
	`subject` text NOT NULL,
	`at` integer NOT NULL,
	`field` text NOT NULL,
	`value` text NOT NULL,
	`state` text DEFAULT 'coming' NOT NULL,
	`before` text,
	`why` text,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`ended_at` integer
) STRICT;
--> statement-breakpoint
CREATE INDEX `planned_changes_due` ON `planned_changes` (`at`,`id`) WHERE state = 'coming';--> statement-breakpoint
CREATE INDEX `planned_changes_subject` ON `planned_changes` (`subject`,`at`);--> statement-breakpoint
CREATE TABLE `portal_visits` (
	`affiliate` text PRIMARY KEY NOT NULL,
	`here_at` integer NOT NULL,
	`before_at` integer,
	`read_at` integer
) STRICT;
--> statement-breakpoint
CREATE TABLE `requests` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`kind` text NOT NULL,
	`size` text NOT NULL,
	`subject` text NOT NULL,
	`language` text NOT NULL,
	`product` text,
	`words` text NOT NULL,
	`at` integer NOT NULL,
	`state` text DEFAULT 'open' NOT NULL,
	`answered_at` integer,
	`answered_by` text,
	`creative` text,
	`answer` text DEFAULT '' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `requests_open` ON `requests` (`at`,`id`) WHERE state = 'open';--> statement-breakpoint
CREATE INDEX `requests_affiliate` ON `requests` (`affiliate`,`at`);--> statement-breakpoint
CREATE TABLE `coupon_days` (
	`coupon` text NOT NULL,
	`day` integer NOT NULL,
	`clicks` integer NOT NULL,
	`orders` integer NOT NULL,
	`value` integer NOT NULL,
	`granted` integer NOT NULL,
	`reversed` integer NOT NULL,
	PRIMARY KEY(`coupon`, `day`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `creative_days` (
	`creative` text NOT NULL,
	`day` integer NOT NULL,
	`affiliate` text NOT NULL,
	`clicks` integer NOT NULL,
	`orders` integer NOT NULL,
	`value` integer NOT NULL,
	`granted` integer NOT NULL,
	`reversed` integer NOT NULL,
	PRIMARY KEY(`creative`, `day`, `affiliate`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `creative_days_affiliate` ON `creative_days` (`affiliate`,`day`);--> statement-breakpoint
PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_links` (
	`code` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`product` text,
	`creative` text,
	`coupon` text,
	`page` text,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`product`) REFERENCES `products`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
INSERT INTO `__new_links`("code", "affiliate", "product", "creative", "coupon", "page", "created_at") SELECT "code", "affiliate", "product", NULL, NULL, NULL, "created_at" FROM `links`;--> statement-breakpoint
DROP TABLE `links`;--> statement-breakpoint
ALTER TABLE `__new_links` RENAME TO `links`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `links_product` ON `links` (`affiliate`,`product`) WHERE creative IS NULL AND coupon IS NULL AND page IS NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `links_creative` ON `links` (`affiliate`,`creative`) WHERE creative IS NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `links_coupon` ON `links` (`affiliate`,`coupon`) WHERE coupon IS NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `links_page` ON `links` (`affiliate`,`product`,`page`) WHERE page IS NOT NULL;--> statement-breakpoint
ALTER TABLE `orders` ADD `coupon_code` text;--> statement-breakpoint
ALTER TABLE `orders` ADD `coupon` text;--> statement-breakpoint
ALTER TABLE `visits` ADD `creative` text;--> statement-breakpoint
ALTER TABLE `visits` ADD `coupon` text;
--> statement-breakpoint
CREATE TRIGGER `creative_days_clicked` AFTER INSERT ON `visits` WHEN new.`creative` IS NOT NULL AND new.`barred` IS NOT 'automated' AND new.`uncounted` IS NULL BEGIN
  INSERT INTO `creative_days` (`creative`, `day`, `affiliate`, `clicks`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`creative`, new.`at` / 86400000, new.`affiliate`, 1, 0, 0, 0, 0)
    ON CONFLICT (`creative`, `day`, `affiliate`) DO UPDATE SET `clicks` = `clicks` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `creative_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`affiliate` IS NOT NULL AND new.`visit` IS NOT NULL BEGIN
  INSERT INTO `creative_days` (`creative`, `day`, `affiliate`, `clicks`, `orders`, `value`, `granted`, `reversed`)
    SELECT v.`creative`, new.`placed_at` / 86400000, new.`affiliate`, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0 FROM `visits` v WHERE v.`id` = new.`visit` AND v.`creative` IS NOT NULL
    ON CONFLICT (`creative`, `day`, `affiliate`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`;
END;
--> statement-breakpoint
CREATE TRIGGER `creative_days_refunded` AFTER INSERT ON `refunds` WHEN new.`reversed` <> 0 BEGIN
  UPDATE `creative_days` SET `reversed` = `reversed` + new.`reversed` WHERE (`creative`, `day`, `affiliate`) =
    (SELECT v.`creative`, o.`placed_at` / 86400000, o.`affiliate` FROM `orders` o JOIN `visits` v ON v.`id` = o.`visit` WHERE o.`id` = new.`order_id` AND o.`test` = 0 AND v.`creative` IS NOT NULL);
END;
--> statement-breakpoint
CREATE TRIGGER `creative_days_declined` AFTER UPDATE OF `declined_amount` ON `commissions` WHEN new.`kind` = 'commission' AND new.`declined_amount` <> old.`declined_amount` BEGIN
  UPDATE `creative_days` SET `reversed` = `reversed` + new.`declined_amount` - old.`declined_amount` WHERE (`creative`, `day`, `affiliate`) =
    (SELECT v.`creative`, o.`placed_at` / 86400000, o.`affiliate` FROM `orders` o JOIN `visits` v ON v.`id` = o.`visit` WHERE o.`id` = new.`order_id` AND o.`test` = 0 AND v.`creative` IS NOT NULL);
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_clicked` AFTER INSERT ON `visits` WHEN new.`coupon` IS NOT NULL AND new.`barred` IS NOT 'automated' AND new.`uncounted` IS NULL BEGIN
  INSERT INTO `coupon_days` (`coupon`, `day`, `clicks`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`coupon`, new.`at` / 86400000, 1, 0, 0, 0, 0)
    ON CONFLICT (`coupon`, `day`) DO UPDATE SET `clicks` = `clicks` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`coupon` IS NOT NULL BEGIN
  INSERT INTO `coupon_days` (`coupon`, `day`, `clicks`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`coupon`, new.`placed_at` / 86400000, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0)
    ON CONFLICT (`coupon`, `day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`;
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_refunded` AFTER INSERT ON `refunds` WHEN new.`reversed` <> 0 BEGIN
  UPDATE `coupon_days` SET `reversed` = `reversed` + new.`reversed` WHERE (`coupon`, `day`) = (SELECT o.`coupon`, o.`placed_at` / 86400000 FROM `orders` o WHERE o.`id` = new.`order_id` AND o.`test` = 0 AND o.`coupon` IS NOT NULL);
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_declined` AFTER UPDATE OF `declined_amount` ON `commissions` WHEN new.`kind` = 'commission' AND new.`declined_amount` <> old.`declined_amount` BEGIN
  UPDATE `coupon_days` SET `reversed` = `reversed` + new.`declined_amount` - old.`declined_amount` WHERE (`coupon`, `day`) = (SELECT o.`coupon`, o.`placed_at` / 86400000 FROM `orders` o WHERE o.`id` = new.`order_id` AND o.`test` = 0 AND o.`coupon` IS NOT NULL);
END;
