ALTER TABLE `runs` ADD `step_by` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `not_approved` text;