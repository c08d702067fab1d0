CREATE TABLE `account_totals` (
	`account` text PRIMARY KEY NOT NULL,
	`amount` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `clearing_quarters` (
	`quarter` integer PRIMARY KEY NOT NULL,
	`held_count` integer NOT NULL,
	`held` integer NOT NULL,
	`cleared` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `payee_totals` (
	`affiliate` text PRIMARY KEY NOT NULL,
	`held` integer NOT NULL,
	`cleared` integer NOT NULL,
	`in_run` integer NOT NULL,
	`paid` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `product_days` (
	`product` text NOT NULL,
	`day` text NOT NULL,
	`sold` integer NOT NULL,
	`credited` integer NOT NULL,
	`granted` integer NOT NULL,
	`refunded` integer NOT NULL,
	`weight` integer NOT NULL,
	`discounted` integer NOT NULL,
	`opened_base` integer NOT NULL,
	`opened_commission` integer NOT NULL,
	PRIMARY KEY(`product`, `day`)
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `sale_days` (
	`day` text PRIMARY KEY NOT NULL,
	`orders` integer NOT NULL,
	`value` integer NOT NULL,
	`granted` integer NOT NULL,
	`reversed` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE TABLE `step_totals` (
	`step` text PRIMARY KEY NOT NULL,
	`taken` integer NOT NULL,
	`lines` integer NOT NULL,
	`base` integer NOT NULL,
	`commission` integer NOT NULL
) STRICT;
--> statement-breakpoint
CREATE INDEX `commissions_at_risk` ON `commissions` (`refundable_until`,`affiliate`,`paid`,`in_run`) WHERE "commissions"."paid" + "commissions"."in_run" > 0;--> statement-breakpoint
CREATE INDEX `commissions_unpaid` ON `commissions` (`clears_at`,`cleared`) WHERE "commissions"."cleared" > 0;--> statement-breakpoint
CREATE INDEX `orders_doubled` ON `orders` (`received_at`) WHERE "orders"."other_way" IS NOT NULL;
--> statement-breakpoint
CREATE TRIGGER `payee_totals_new` AFTER INSERT ON `commissions` BEGIN
  INSERT INTO `payee_totals` (`affiliate`, `held`, `cleared`, `in_run`, `paid`) VALUES (new.`affiliate`, new.`held`, new.`cleared`, new.`in_run`, new.`paid`)
    ON CONFLICT (`affiliate`) DO UPDATE SET `held` = `held` + excluded.`held`, `cleared` = `cleared` + excluded.`cleared`, `in_run` = `in_run` + excluded.`in_run`, `paid` = `paid` + excluded.`paid`;
END;
--> statement-breakpoint
CREATE TRIGGER `payee_totals_moved` AFTER UPDATE OF `held`, `cleared`, `in_run`, `paid` ON `commissions` BEGIN
  UPDATE `payee_totals` SET `held` = `held` + new.`held` - old.`held`, `cleared` = `cleared` + new.`cleared` - old.`cleared`, `in_run` = `in_run` + new.`in_run` - old.`in_run`, `paid` = `paid` + new.`paid` - old.`paid` WHERE `affiliate` = new.`affiliate`;
END;
--> statement-breakpoint
CREATE TRIGGER `clearing_quarters_new` AFTER INSERT ON `commissions` WHEN new.`held` > 0 OR new.`cleared` > 0 BEGIN
  INSERT INTO `clearing_quarters` (`quarter`, `held_count`, `held`, `cleared`) VALUES (new.`clears_at` / 900000, new.`held` > 0, max(new.`held`, 0), max(new.`cleared`, 0))
    ON CONFLICT (`quarter`) DO UPDATE SET `held_count` = `held_count` + excluded.`held_count`, `held` = `held` + excluded.`held`, `cleared` = `cleared` + excluded.`cleared`;
END;
--> statement-breakpoint
CREATE TRIGGER `clearing_quarters_moved` AFTER UPDATE OF `held`, `cleared`, `clears_at` ON `commissions` WHEN old.`held` > 0 OR old.`cleared` > 0 OR new.`held` > 0 OR new.`cleared` > 0 BEGIN
  UPDATE `clearing_quarters` SET `held_count` = `held_count` - (old.`held` > 0), `held` = `held` - max(old.`held`, 0), `cleared` = `cleared` - max(old.`cleared`, 0) WHERE `quarter` = old.`clears_at` / 900000;
  INSERT INTO `clearing_quarters` (`quarter`, `held_count`, `held`, `cleared`) VALUES (new.`clears_at` / 900000, new.`held` > 0, max(new.`held`, 0), max(new.`cleared`, 0))
    ON CONFLICT (`quarter`) DO UPDATE SET `held_count` = `held_count` + excluded.`held_count`, `held` = `held` + excluded.`held`, `cleared` = `cleared` + excluded.`cleared`;
END;
--> statement-breakpoint
CREATE TRIGGER `sale_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`affiliate` IS NOT NULL BEGIN
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`day`, new.`event` = 'sale', new.`base`, new.`granted`, 0)
    ON CONFLICT (`day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`;
END;
--> statement-breakpoint
CREATE TRIGGER `sale_days_refunded` AFTER INSERT ON `refunds` WHEN new.`reversed` <> 0 BEGIN
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`day`, 0, 0, 0, new.`reversed`)
    ON CONFLICT (`day`) DO UPDATE SET `reversed` = `reversed` + excluded.`reversed`;
END;
--> statement-breakpoint
CREATE TRIGGER `sale_days_declined_new` AFTER INSERT ON `commissions` WHEN new.`kind` = 'commission' AND new.`declined_day` IS NOT NULL BEGIN
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`) VALUES (new.`declined_day`, 0, 0, 0, new.`declined_amount`)
    ON CONFLICT (`day`) DO UPDATE SET `reversed` = `reversed` + excluded.`reversed`;
END;
--> statement-breakpoint
CREATE TRIGGER `sale_days_declined` AFTER UPDATE OF `declined_day`, `declined_amount` ON `commissions` WHEN new.`kind` = 'commission' BEGIN
  UPDATE `sale_days` SET `reversed` = `reversed` - old.`declined_amount` WHERE `day` = old.`declined_day`;
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`) SELECT new.`declined_day`, 0, 0, 0, new.`declined_amount` WHERE new.`declined_day` IS NOT NULL
    ON CONFLICT (`day`) DO UPDATE SET `reversed` = `reversed` + excluded.`reversed`;
END;
--> statement-breakpoint
CREATE TRIGGER `product_days_sold` AFTER INSERT ON `order_lines` BEGIN
  INSERT INTO `product_days` (`product`, `day`, `sold`, `credited`, `granted`, `refunded`, `weight`, `discounted`, `opened_base`, `opened_commission`)
    SELECT new.`product`, o.`day`, f.`first` AND o.`event` <> 'renewal', f.`first` AND o.`affiliate` IS NOT NULL, iif(o.`affiliate` IS NULL, 0, new.`commission`), new.`value_left` < new.`value` AND f.`whole`,
      iif(o.`event` = 'sale' AND new.`amount` > 0, new.`base`, 0), iif(o.`event` = 'sale' AND new.`amount` > 0, new.`base` * (new.`discount` * 10000 / new.`amount`), 0),
      iif(new.`step` IS NULL AND o.`event` <> 'renewal', new.`base`, 0), iif(new.`step` IS NULL AND o.`event` <> 'renewal', new.`commission`, 0)
    FROM `orders` o, (SELECT NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = new.`order_id` AND l.`product` = new.`product` AND l.`position` <> new.`position`) AS `first`,
      NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = new.`order_id` AND l.`product` = new.`product` AND l.`position` <> new.`position` AND l.`value_left` < l.`value`) AS `whole`) f WHERE o.`id` = new.`order_id` AND o.`test` = 0
    ON CONFLICT (`product`, `day`) DO UPDATE SET `sold` = `sold` + excluded.`sold`, `credited` = `credited` + excluded.`credited`, `granted` = `granted` + excluded.`granted`, `refunded` = `refunded` + excluded.`refunded`, `weight` = `weight` + excluded.`weight`, `discounted` = `discounted` + excluded.`discounted`, `opened_base` = `opened_base` + excluded.`opened_base`, `opened_commission` = `opened_commission` + excluded.`opened_commission`;
END;
--> statement-breakpoint
CREATE TRIGGER `product_days_refunded` AFTER UPDATE OF `value_left` ON `order_lines` WHEN (new.`value_left` < new.`value`) <> (old.`value_left` < old.`value`)
  AND NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = new.`order_id` AND l.`product` = new.`product` AND l.`position` <> new.`position` AND l.`value_left` < l.`value`) BEGIN
  UPDATE `product_days` SET `refunded` = `refunded` + iif(new.`value_left` < new.`value`, 1, -1) WHERE `product` = new.`product` AND `day` = (SELECT o.`day` FROM `orders` o WHERE o.`id` = new.`order_id` AND o.`test` = 0);
END;
--> statement-breakpoint
INSERT INTO `payee_totals` SELECT `affiliate`, sum(`held`), sum(`cleared`), sum(`in_run`), sum(`paid`) FROM `commissions` GROUP BY 1;
--> statement-breakpoint
INSERT INTO `clearing_quarters` SELECT `clears_at` / 900000, sum(`held` > 0), sum(max(`held`, 0)), sum(max(`cleared`, 0)) FROM `commissions` WHERE `held` > 0 OR `cleared` > 0 GROUP BY 1;
--> statement-breakpoint
INSERT INTO `sale_days` SELECT `day`, sum(`orders`), sum(`value`), sum(`granted`), sum(`reversed`) FROM (
  SELECT `day`, `event` = 'sale' AS `orders`, `base` AS `value`, `granted`, 0 AS `reversed` FROM `orders` WHERE `test` = 0 AND `affiliate` IS NOT NULL
  UNION ALL SELECT `day`, 0, 0, 0, `reversed` FROM `refunds`
  UNION ALL SELECT `declined_day`, 0, 0, 0, `declined_amount` FROM `commissions` WHERE `kind` = 'commission' AND `declined_day` IS NOT NULL) GROUP BY 1;
--> statement-breakpoint
INSERT INTO `product_days` SELECT l.`product`, o.`day`, count(DISTINCT iif(o.`event` <> 'renewal', o.`id`, NULL)), count(DISTINCT iif(o.`affiliate` IS NULL, NULL, o.`id`)), sum(iif(o.`affiliate` IS NULL, 0, l.`commission`)), count(DISTINCT iif(l.`value_left` < l.`value`, o.`id`, NULL)),
    sum(iif(o.`event` = 'sale' AND l.`amount` > 0, l.`base`, 0)), sum(iif(o.`event` = 'sale' AND l.`amount` > 0, l.`base` * (l.`discount` * 10000 / l.`amount`), 0)),
    sum(iif(l.`step` IS NULL AND o.`event` <> 'renewal', l.`base`, 0)), sum(iif(l.`step` IS NULL AND o.`event` <> 'renewal', l.`commission`, 0))
  FROM `order_lines` l JOIN `orders` o ON o.`id` = l.`order_id` WHERE o.`test` = 0 GROUP BY 1, 2;
--> statement-breakpoint
CREATE TRIGGER `account_totals_posted` AFTER INSERT ON `entry_lines` BEGIN
  INSERT INTO `account_totals` (`account`, `amount`) VALUES (new.`account`, new.`amount`) ON CONFLICT (`account`) DO UPDATE SET `amount` = `amount` + excluded.`amount`;
END;
--> statement-breakpoint
CREATE TRIGGER `step_totals_taken` AFTER INSERT ON `order_lines` WHEN new.`step` IS NOT NULL BEGIN
  INSERT INTO `step_totals` (`step`, `taken`, `lines`, `base`, `commission`) SELECT new.`step`, o.`event` <> 'renewal', 1, new.`base`, new.`commission` FROM `orders` o WHERE o.`id` = new.`order_id` AND o.`test` = 0
    ON CONFLICT (`step`) DO UPDATE SET `taken` = `taken` + excluded.`taken`, `lines` = `lines` + 1, `base` = `base` + excluded.`base`, `commission` = `commission` + excluded.`commission`;
END;
--> statement-breakpoint
INSERT INTO `account_totals` SELECT `account`, sum(`amount`) FROM `entry_lines` GROUP BY 1;
--> statement-breakpoint
INSERT INTO `step_totals` SELECT l.`step`, sum(o.`event` <> 'renewal'), count(*), sum(l.`base`), sum(l.`commission`) FROM `order_lines` l JOIN `orders` o ON o.`id` = l.`order_id` WHERE l.`step` IS NOT NULL AND o.`test` = 0 GROUP BY 1;
