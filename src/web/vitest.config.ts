import { defineConfig, mergeConfig } from 'vitest/config';
import page from './vite.config';

// Apart from the page's own settings: whoever only runs the page has no tests' packages.
export default mergeConfig(
  page,
  defineConfig({
    test: { include: ['src/**/*.test.{ts,tsx}'], setupFiles: ['src/setupTests.ts'], testTimeout: 30_000 },
  }),
);
