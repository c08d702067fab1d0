ALTER TABLE `coupon_days` ADD `first_value` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `coupon_days` ADD `renewals` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `coupon_days` ADD `corrected` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `creative_days` ADD `first_value` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `creative_days` ADD `renewals` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `creative_days` ADD `corrected` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `product_days` ADD `orders` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `product_days` ADD `leads` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `sale_days` ADD `first_value` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `sale_days` ADD `renewals` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `sale_days` ADD `corrected` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- Visits that nobody opened are no clicks: they were left out of other counts already.
DROP TRIGGER `last_clicks_new`;
--> statement-breakpoint
DELETE FROM `last_clicks`;
--> statement-breakpoint
INSERT INTO `last_clicks` (`affiliate`, `day`)
  SELECT `affiliate`, max(`at` / 86400000) FROM `visits`
  WHERE `barred` IS NOT 'automated' AND (`uncounted` IS NULL OR `uncounted` LIKE '{"code":"same-%') GROUP BY 1;
--> statement-breakpoint
CREATE TRIGGER `last_clicks_new` AFTER INSERT ON `visits` WHEN new.`barred` IS NOT 'automated' AND new.`uncounted` IS NULL BEGIN
  INSERT INTO `last_clicks` (`affiliate`, `day`) VALUES (new.`affiliate`, new.`at` / 86400000)
    ON CONFLICT (`affiliate`) DO UPDATE SET `day` = excluded.`day` WHERE excluded.`day` > `day`;
END;
--> statement-breakpoint
DROP TRIGGER `sale_days_sold`;
--> statement-breakpoint
UPDATE `sale_days` SET (`first_value`, `renewals`) = (SELECT coalesce(sum(iif(o.`event` = 'sale', o.`base`, 0)), 0), coalesce(sum(o.`event` = 'renewal'), 0)
  FROM `orders` o WHERE o.`day` = `sale_days`.`day` AND o.`test` = 0 AND o.`affiliate` IS NOT NULL);
--> statement-breakpoint
CREATE TRIGGER `sale_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`affiliate` IS NOT NULL BEGIN
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    VALUES (new.`day`, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal')
    ON CONFLICT (`day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
DROP TRIGGER `creative_days_sold`;
--> statement-breakpoint
CREATE TRIGGER `creative_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`affiliate` IS NOT NULL AND new.`visit` IS NOT NULL BEGIN
  INSERT INTO `creative_days` (`creative`, `day`, `affiliate`, `clicks`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    SELECT v.`creative`, new.`placed_at` / 86400000, new.`affiliate`, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal'
    FROM `visits` v WHERE v.`id` = new.`visit` AND v.`creative` IS NOT NULL
    ON CONFLICT (`creative`, `day`, `affiliate`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
DROP TRIGGER `coupon_days_sold`;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_sold` AFTER INSERT ON `orders` WHEN new.`test` = 0 AND new.`coupon` IS NOT NULL BEGIN
  INSERT INTO `coupon_days` (`coupon`, `day`, `clicks`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    VALUES (new.`coupon`, new.`placed_at` / 86400000, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal')
    ON CONFLICT (`coupon`, `day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
-- What people corrected is in the journal: a debit of expense in an entry of that kind.
CREATE TRIGGER `creative_days_corrected` AFTER INSERT ON `entry_lines` WHEN new.`account` = 'expense' AND new.`commission` IS NOT NULL AND (SELECT e.`event` FROM `entries` e WHERE e.`id` = new.`entry`) = 'correction' BEGIN
  UPDATE `creative_days` SET `corrected` = `corrected` + new.`amount` WHERE (`creative`, `day`, `affiliate`) =
    (SELECT v.`creative`, o.`placed_at` / 86400000, o.`affiliate` FROM `commissions` c JOIN `orders` o ON o.`id` = c.`order_id` JOIN `visits` v ON v.`id` = o.`visit`
     WHERE c.`id` = new.`commission` AND c.`kind` = 'commission' AND o.`test` = 0 AND v.`creative` IS NOT NULL);
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_corrected` AFTER INSERT ON `entry_lines` WHEN new.`account` = 'expense' AND new.`commission` IS NOT NULL AND (SELECT e.`event` FROM `entries` e WHERE e.`id` = new.`entry`) = 'correction' BEGIN
  UPDATE `coupon_days` SET `corrected` = `corrected` + new.`amount` WHERE (`coupon`, `day`) =
    (SELECT o.`coupon`, o.`placed_at` / 86400000 FROM `commissions` c JOIN `orders` o ON o.`id` = c.`order_id`
     WHERE c.`id` = new.`commission` AND c.`kind` = 'commission' AND o.`test` = 0 AND o.`coupon` IS NOT NULL);
END;
--> statement-breakpoint
UPDATE `creative_days` SET (`first_value`, `renewals`) = (SELECT coalesce(sum(iif(o.`event` = 'sale', o.`base`, 0)), 0), coalesce(sum(o.`event` = 'renewal'), 0)
  FROM `orders` o JOIN `visits` v ON v.`id` = o.`visit` WHERE o.`affiliate` = `creative_days`.`affiliate` AND o.`placed_at` >= `creative_days`.`day` * 86400000 AND o.`placed_at` < (`creative_days`.`day` + 1) * 86400000
    AND o.`test` = 0 AND v.`creative` = `creative_days`.`creative`) WHERE `orders` > 0 OR `value` > 0;
--> statement-breakpoint
UPDATE `coupon_days` SET (`first_value`, `renewals`) = (SELECT coalesce(sum(iif(o.`event` = 'sale', o.`base`, 0)), 0), coalesce(sum(o.`event` = 'renewal'), 0)
  FROM `orders` o WHERE o.`placed_at` >= `coupon_days`.`day` * 86400000 AND o.`placed_at` < (`coupon_days`.`day` + 1) * 86400000 AND o.`test` = 0 AND o.`coupon` = `coupon_days`.`coupon`) WHERE `orders` > 0 OR `value` > 0;
--> statement-breakpoint
UPDATE `creative_days` SET `corrected` = `corrected` + x.n FROM (
  SELECT v.`creative` AS creative, o.`placed_at` / 86400000 AS day, o.`affiliate` AS affiliate, sum(l.`amount`) AS n
  FROM `entries` e JOIN `entry_lines` l ON l.`entry` = e.`id` AND l.`account` = 'expense' JOIN `commissions` c ON c.`id` = l.`commission` AND c.`kind` = 'commission'
    JOIN `orders` o ON o.`id` = c.`order_id` AND o.`test` = 0 JOIN `visits` v ON v.`id` = o.`visit` AND v.`creative` IS NOT NULL
  WHERE e.`event` = 'correction' GROUP BY 1, 2, 3) x
  WHERE x.creative = `creative_days`.`creative` AND x.day = `creative_days`.`day` AND x.affiliate = `creative_days`.`affiliate`;
--> statement-breakpoint
UPDATE `coupon_days` SET `corrected` = `corrected` + x.n FROM (
  SELECT o.`coupon` AS coupon, o.`placed_at` / 86400000 AS day, sum(l.`amount`) AS n
  FROM `entries` e JOIN `entry_lines` l ON l.`entry` = e.`id` AND l.`account` = 'expense' JOIN `commissions` c ON c.`id` = l.`commission` AND c.`kind` = 'commission'
    JOIN `orders` o ON o.`id` = c.`order_id` AND o.`test` = 0 AND o.`coupon` IS NOT NULL
  WHERE e.`event` = 'correction' GROUP BY 1, 2) x
  WHERE x.coupon = `coupon_days`.`coupon` AND x.day = `coupon_days`.`day`;
--> statement-breakpoint
CREATE TRIGGER `sale_days_corrected` AFTER INSERT ON `entry_lines` WHEN new.`account` = 'expense' AND new.`commission` IS NOT NULL AND (SELECT e.`event` FROM `entries` e WHERE e.`id` = new.`entry`) = 'correction' BEGIN
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`, `corrected`)
    SELECT e.`day`, 0, 0, 0, 0, new.`amount` FROM `entries` e JOIN `commissions` c ON c.`id` = new.`commission` WHERE e.`id` = new.`entry` AND c.`kind` = 'commission'
    ON CONFLICT (`day`) DO UPDATE SET `corrected` = `corrected` + excluded.`corrected`;
END;
--> statement-breakpoint
INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`, `corrected`)
  SELECT e.`day`, 0, 0, 0, 0, sum(l.`amount`) FROM `entries` e JOIN `entry_lines` l ON l.`entry` = e.`id` AND l.`account` = 'expense' JOIN `commissions` c ON c.`id` = l.`commission` AND c.`kind` = 'commission'
  WHERE e.`event` = 'correction' GROUP BY 1
  ON CONFLICT (`day`) DO UPDATE SET `corrected` = excluded.`corrected`;
--> statement-breakpoint
DROP TRIGGER `product_days_sold`;
--> statement-breakpoint
CREATE TRIGGER `product_days_sold` AFTER INSERT ON `order_lines` BEGIN
  INSERT INTO `product_days` (`product`, `day`, `sold`, `credited`, `granted`, `refunded`, `weight`, `discounted`, `opened_base`, `opened_commission`, `orders`, `leads`)
    SELECT new.`product`, o.`day`, f.`first` AND o.`event` <> 'renewal', f.`first` AND o.`affiliate` IS NOT NULL, iif(o.`affiliate` IS NULL, 0, new.`commission`), new.`value_left` < new.`value` AND f.`whole`,
      iif(o.`event` = 'sale' AND new.`amount` > 0, new.`base`, 0), iif(o.`event` = 'sale' AND new.`amount` > 0, new.`base` * (new.`discount` * 10000 / new.`amount`), 0),
      iif(new.`step` IS NULL AND o.`event` <> 'renewal', new.`base`, 0), iif(new.`step` IS NULL AND o.`event` <> 'renewal', new.`commission`, 0),
      f.`first` AND o.`affiliate` IS NOT NULL AND o.`event` = 'sale', f.`first` AND o.`affiliate` IS NOT NULL AND o.`event` = 'lead'
    FROM `orders` o, (SELECT NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = new.`order_id` AND l.`product` = new.`product` AND l.`position` <> new.`position`) AS `first`,
      NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = new.`order_id` AND l.`product` = new.`product` AND l.`position` <> new.`position` AND l.`value_left` < l.`value`) AS `whole`) f WHERE o.`id` = new.`order_id` AND o.`test` = 0
    ON CONFLICT (`product`, `day`) DO UPDATE SET `sold` = `sold` + excluded.`sold`, `credited` = `credited` + excluded.`credited`, `granted` = `granted` + excluded.`granted`, `refunded` = `refunded` + excluded.`refunded`, `weight` = `weight` + excluded.`weight`, `discounted` = `discounted` + excluded.`discounted`, `opened_base` = `opened_base` + excluded.`opened_base`, `opened_commission` = `opened_commission` + excluded.`opened_commission`, `orders` = `orders` + excluded.`orders`, `leads` = `leads` + excluded.`leads`;
END;
--> statement-breakpoint
UPDATE `product_days` SET `orders` = x.o, `leads` = x.l FROM (
  SELECT l.`product` AS product, o.`day` AS day, count(DISTINCT iif(o.`event` = 'sale', o.`id`, NULL)) AS o, count(DISTINCT iif(o.`event` = 'lead', o.`id`, NULL)) AS l
  FROM `order_lines` l JOIN `orders` o ON o.`id` = l.`order_id` WHERE o.`test` = 0 AND o.`affiliate` IS NOT NULL GROUP BY 1, 2) x
  WHERE x.product = `product_days`.`product` AND x.day = `product_days`.`day`;
