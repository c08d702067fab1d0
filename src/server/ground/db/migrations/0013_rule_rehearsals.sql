CREATE TABLE `rule_rehearsals` (
	`id` text PRIMARY KEY NOT NULL,
	`by` text NOT NULL,
	`at` integer NOT NULL,
	`rules` text NOT NULL,
	`state` text NOT NULL,
	`done` integer DEFAULT 0 NOT NULL,
	`total` integer DEFAULT 0 NOT NULL,
	`took_ms` integer,
	`result` text
) STRICT;
--> statement-breakpoint
CREATE INDEX `rule_rehearsals_at` ON `rule_rehearsals` (`at`);