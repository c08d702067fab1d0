-- Why a visit cannot earn is kept by its code; until now it was kept in words, of which there were these.
DROP TRIGGER `last_clicks_new`;
--> statement-breakpoint
UPDATE `visits` SET `barred` = CASE
  WHEN `barred` = 'the visitor looks automated' THEN 'automated'
  WHEN `barred` = 'the product is retired' THEN 'product-retired'
  WHEN `barred` LIKE 'the affiliate is %' THEN 'affiliate-' || substr(`barred`, 18)
  ELSE `barred` END
WHERE `barred` IS NOT NULL;
--> statement-breakpoint
CREATE TRIGGER `last_clicks_new` AFTER INSERT ON `visits` WHEN new.`barred` IS NOT 'automated' BEGIN
  INSERT INTO `last_clicks` (`affiliate`, `day`) VALUES (new.`affiliate`, new.`at` / 86400000)
    ON CONFLICT (`affiliate`) DO UPDATE SET `day` = excluded.`day` WHERE excluded.`day` > `day`;
END;
