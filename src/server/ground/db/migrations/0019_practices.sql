CREATE TABLE `application_practices` (
	`application` text NOT NULL,
	`practice` text NOT NULL,
	`ticked` integer NOT NULL,
	`said` integer NOT NULL,
	PRIMARY KEY(`application`, `practice`),
	FOREIGN KEY (`application`) REFERENCES `applications`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `application_practices_practice` ON `application_practices` (`practice`,`application`);--> statement-breakpoint
CREATE TABLE `permissions` (
	`id` text PRIMARY KEY NOT NULL,
	`affiliate` text NOT NULL,
	`practice` text NOT NULL,
	`name` text NOT NULL,
	`allowed` integer NOT NULL,
	`words` text DEFAULT '' NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`application` text,
	`replaced` text,
	`ended_at` integer,
	FOREIGN KEY (`affiliate`) REFERENCES `affiliates`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`application`) REFERENCES `applications`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `permissions_affiliate` ON `permissions` (`affiliate`,`at`);--> statement-breakpoint
CREATE INDEX `permissions_practice` ON `permissions` (`practice`,`affiliate`);--> statement-breakpoint
CREATE UNIQUE INDEX `permissions_standing` ON `permissions` (`affiliate`,`practice`) WHERE "permissions"."ended_at" IS NULL;--> statement-breakpoint
CREATE TABLE `practice_matches` (
	`application` text PRIMARY KEY NOT NULL,
	`policy` integer NOT NULL,
	`asked` integer NOT NULL,
	FOREIGN KEY (`application`) REFERENCES `applications`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `practice_matches_policy` ON `practice_matches` (`policy`);--> statement-breakpoint
ALTER TABLE `policies` ADD `closed_for` integer;--> statement-breakpoint
ALTER TABLE `policies` ADD `told_to` text;--> statement-breakpoint
ALTER TABLE `policies` ADD `closed_to` text;--> statement-breakpoint
UPDATE `policies` SET `content` = json_set(`content`, '$.form', 'sections');--> statement-breakpoint
INSERT INTO `practice_matches` SELECT `id`, 0, 0 FROM `applications`;
