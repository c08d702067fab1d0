CREATE TABLE `portal_visits` (
	`affiliate` text PRIMARY KEY NOT NULL,
	`here_at` integer NOT NULL,
	`before_at` integer
) STRICT;
