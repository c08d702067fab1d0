CREATE TABLE `note_keys` (
	`band` integer NOT NULL,
	`note_key` integer NOT NULL,
	`application` text NOT NULL,
	PRIMARY KEY(`band`, `note_key`, `application`),
	FOREIGN KEY (`application`) REFERENCES `applications`(`id`) ON UPDATE no action ON DELETE no action
) STRICT, WITHOUT ROWID;
--> statement-breakpoint
CREATE TABLE `questions` (
	`id` text PRIMARY KEY NOT NULL,
	`application` text NOT NULL,
	`at` integer NOT NULL,
	`day` text NOT NULL,
	`by` text NOT NULL,
	`question` text NOT NULL,
	`counted` integer NOT NULL,
	`answer` text,
	`answered_at` integer,
	FOREIGN KEY (`application`) REFERENCES `applications`(`id`) ON UPDATE no action ON DELETE no action
) STRICT;
--> statement-breakpoint
CREATE INDEX `questions_application` ON `questions` (`application`);--> statement-breakpoint
CREATE INDEX `questions_day` ON `questions` (`day`);--> statement-breakpoint
CREATE TABLE `screening_rules` (
	`id` text PRIMARY KEY NOT NULL,
	`position` integer NOT NULL,
	`conditions` text NOT NULL,
	`outcome` text NOT NULL,
	`is_on` integer DEFAULT false NOT NULL,
	`created_at` integer NOT NULL,
	`by` text NOT NULL,
	`removed_at` integer,
	`version` integer DEFAULT 1 NOT NULL
) STRICT;
--> statement-breakpoint
ALTER TABLE `affiliates` ADD `address_key` text;--> statement-breakpoint
CREATE INDEX `affiliates_iban` ON `affiliates` (`payee_iban`) WHERE "affiliates"."payee_iban" <> '';--> statement-breakpoint
CREATE INDEX `affiliates_address` ON `affiliates` (`address_key`);--> statement-breakpoint
ALTER TABLE `applications` ADD `indexed` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `applications` ADD `rule` text;--> statement-breakpoint
CREATE INDEX `applications_unindexed` ON `applications` (`id`) WHERE "applications"."indexed" = 0;--> statement-breakpoint
ALTER TABLE `programme` ADD `messages_per_day` integer DEFAULT 50 NOT NULL;