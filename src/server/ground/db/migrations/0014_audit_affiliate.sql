CREATE INDEX `audit_affiliate` ON `audit` (json_extract(`after`, '$.affiliate'),`at`);
