ALTER TABLE `affiliates` ADD `blocked_at` integer;
--> statement-breakpoint
UPDATE `affiliates` SET `blocked_at` = (SELECT max(a.`at`) FROM `audit` a WHERE a.`subject` = `affiliates`.`id` AND a.`action` = 'affiliate-moved' AND json_extract(a.`after`, '$.state') = 'blocked') WHERE `state` = 'blocked';
