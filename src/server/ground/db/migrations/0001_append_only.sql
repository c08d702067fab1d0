-- The journal and the audit are append-only: the database itself refuses anything else.
CREATE TRIGGER `entries_no_update` BEFORE UPDATE ON `entries` BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `entries_no_delete` BEFORE DELETE ON `entries` BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `entry_lines_no_update` BEFORE UPDATE ON `entry_lines` BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `entry_lines_no_delete` BEFORE DELETE ON `entry_lines` BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `audit_no_update` BEFORE UPDATE ON `audit` BEGIN SELECT RAISE(ABORT, 'the audit is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `audit_no_delete` BEFORE DELETE ON `audit` BEGIN SELECT RAISE(ABORT, 'the audit is append-only'); END;
