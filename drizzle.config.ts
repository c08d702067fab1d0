import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'sqlite',
  schema: './src/server/ground/tables/*.ts',
  out: './src/server/ground/db/migrations',
});
