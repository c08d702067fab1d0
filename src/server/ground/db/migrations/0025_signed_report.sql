-- A signed report takes the place of what a picture said: totals follow the order, and its lines that are written anew.
CREATE TRIGGER `sale_days_rewritten` AFTER UPDATE OF `base`, `granted`, `affiliate` ON `orders` WHEN new.`test` = 0 BEGIN
  UPDATE `sale_days` SET `orders` = `orders` - (old.`event` = 'sale'), `value` = `value` - old.`base`, `granted` = `granted` - old.`granted`,
    `first_value` = `first_value` - iif(old.`event` = 'sale', old.`base`, 0), `renewals` = `renewals` - (old.`event` = 'renewal')
    WHERE `day` = old.`day` AND old.`affiliate` IS NOT NULL;
  INSERT INTO `sale_days` (`day`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    SELECT new.`day`, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal' WHERE new.`affiliate` IS NOT NULL
    ON CONFLICT (`day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
CREATE TRIGGER `creative_days_rewritten` AFTER UPDATE OF `base`, `granted`, `affiliate`, `visit` ON `orders` WHEN new.`test` = 0 BEGIN
  UPDATE `creative_days` SET `orders` = `orders` - (old.`event` = 'sale'), `value` = `value` - old.`base`, `granted` = `granted` - old.`granted`,
    `first_value` = `first_value` - iif(old.`event` = 'sale', old.`base`, 0), `renewals` = `renewals` - (old.`event` = 'renewal')
    WHERE (`creative`, `day`, `affiliate`) = (SELECT v.`creative`, old.`placed_at` / 86400000, old.`affiliate` FROM `visits` v WHERE v.`id` = old.`visit` AND v.`creative` IS NOT NULL);
  INSERT INTO `creative_days` (`creative`, `day`, `affiliate`, `clicks`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    SELECT v.`creative`, new.`placed_at` / 86400000, new.`affiliate`, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal'
    FROM `visits` v WHERE v.`id` = new.`visit` AND v.`creative` IS NOT NULL AND new.`affiliate` IS NOT NULL
    ON CONFLICT (`creative`, `day`, `affiliate`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
CREATE TRIGGER `coupon_days_rewritten` AFTER UPDATE OF `base`, `granted`, `coupon` ON `orders` WHEN new.`test` = 0 BEGIN
  UPDATE `coupon_days` SET `orders` = `orders` - (old.`event` = 'sale'), `value` = `value` - old.`base`, `granted` = `granted` - old.`granted`,
    `first_value` = `first_value` - iif(old.`event` = 'sale', old.`base`, 0), `renewals` = `renewals` - (old.`event` = 'renewal')
    WHERE `coupon` = old.`coupon` AND `day` = old.`placed_at` / 86400000;
  INSERT INTO `coupon_days` (`coupon`, `day`, `clicks`, `orders`, `value`, `granted`, `reversed`, `first_value`, `renewals`)
    SELECT new.`coupon`, new.`placed_at` / 86400000, 0, new.`event` = 'sale', new.`base`, new.`granted`, 0, iif(new.`event` = 'sale', new.`base`, 0), new.`event` = 'renewal' WHERE new.`coupon` IS NOT NULL
    ON CONFLICT (`coupon`, `day`) DO UPDATE SET `orders` = `orders` + excluded.`orders`, `value` = `value` + excluded.`value`, `granted` = `granted` + excluded.`granted`,
      `first_value` = `first_value` + excluded.`first_value`, `renewals` = `renewals` + excluded.`renewals`;
END;
--> statement-breakpoint
CREATE TRIGGER `product_days_rewritten` AFTER DELETE ON `order_lines` BEGIN
  UPDATE `product_days` SET
    `sold` = `sold` - (x.`first` AND x.`event` <> 'renewal'), `credited` = `credited` - (x.`first` AND x.`affiliate` IS NOT NULL),
    `granted` = `granted` - iif(x.`affiliate` IS NULL, 0, old.`commission`), `refunded` = `refunded` - (old.`value_left` < old.`value` AND x.`whole`),
    `weight` = `weight` - iif(x.`event` = 'sale' AND old.`amount` > 0, old.`base`, 0),
    `discounted` = `discounted` - iif(x.`event` = 'sale' AND old.`amount` > 0, old.`base` * (old.`discount` * 10000 / old.`amount`), 0),
    `opened_base` = `opened_base` - iif(old.`step` IS NULL AND x.`event` <> 'renewal', old.`base`, 0),
    `opened_commission` = `opened_commission` - iif(old.`step` IS NULL AND x.`event` <> 'renewal', old.`commission`, 0),
    `orders` = `orders` - (x.`first` AND x.`affiliate` IS NOT NULL AND x.`event` = 'sale'), `leads` = `leads` - (x.`first` AND x.`affiliate` IS NOT NULL AND x.`event` = 'lead')
  FROM (SELECT o.`day`, o.`event`, o.`affiliate`,
      NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = old.`order_id` AND l.`product` = old.`product`) AS `first`,
      NOT EXISTS (SELECT 1 FROM `order_lines` l WHERE l.`order_id` = old.`order_id` AND l.`product` = old.`product` AND l.`value_left` < l.`value`) AS `whole`
    FROM `orders` o WHERE o.`id` = old.`order_id` AND o.`test` = 0) x
  WHERE `product_days`.`product` = old.`product` AND `product_days`.`day` = x.`day`;
END;
--> statement-breakpoint
CREATE TRIGGER `step_totals_rewritten` AFTER DELETE ON `order_lines` WHEN old.`step` IS NOT NULL BEGIN
  UPDATE `step_totals` SET `taken` = `step_totals`.`taken` - (o.`event` <> 'renewal'), `lines` = `step_totals`.`lines` - 1, `base` = `step_totals`.`base` - old.`base`, `commission` = `step_totals`.`commission` - old.`commission`
    FROM `orders` o WHERE `step_totals`.`step` = old.`step` AND o.`id` = old.`order_id` AND o.`test` = 0;
END;
