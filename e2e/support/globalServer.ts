import type { TestProject } from 'vitest/node';
import { startServer } from './server';

declare module 'vitest' {
  interface ProvidedContext {
    /** Where the product is served. */
    readonly base: string;
  }
}

/** One server for all test files: what each keeps is in its own browser. */
export default async function serve(project: TestProject): Promise<() => void> {
  const { base, stop } = await startServer();
  project.provide('base', base);
  return stop;
}
