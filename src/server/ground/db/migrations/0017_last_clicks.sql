CREATE TABLE `last_clicks` (
	`affiliate` text PRIMARY KEY NOT NULL,
	`day` integer NOT NULL
) STRICT;

--> statement-breakpoint
CREATE TRIGGER `last_clicks_new` AFTER INSERT ON `visits` WHEN new.`barred` IS NOT 'the visitor looks automated' BEGIN
  INSERT INTO `last_clicks` (`affiliate`, `day`) VALUES (new.`affiliate`, new.`at` / 86400000)
    ON CONFLICT (`affiliate`) DO UPDATE SET `day` = excluded.`day` WHERE excluded.`day` > `day`;
END;
--> statement-breakpoint
INSERT INTO `last_clicks` SELECT `affiliate`, max(`at` / 86400000) FROM `visits` WHERE `barred` IS NOT 'the visitor looks automated' GROUP BY 1;
