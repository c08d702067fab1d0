import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'sqlite',
  schema: './src/server/ground/tables/index.ts',
  out: './src/server/ground/db/migrations',
});
