CREATE TABLE `page_checks` (
	`address` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`status` integer NOT NULL,
	`fault` text
) STRICT;
