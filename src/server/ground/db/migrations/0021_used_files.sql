ALTER TABLE `material_files` ADD `used_at` integer;--> statement-breakpoint
UPDATE material_files SET used_at = at;
