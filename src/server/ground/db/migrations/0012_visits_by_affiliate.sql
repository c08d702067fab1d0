DROP INDEX `visits_affiliate`;--> statement-breakpoint
CREATE INDEX `visits_affiliate` ON `visits` (`affiliate`,`at`,`barred`);