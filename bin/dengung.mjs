#!/usr/bin/env node
// The command line as it was built when the packages were installed; it is built now where that was not done.
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const main = new URL('../.cache/cli/main.mjs', import.meta.url);
if (!existsSync(main)) await import('../scripts/prepare.mjs');
process.env.DENGUNG_CWD ??= process.cwd();
process.env.DENGUNG_ROOT ??= fileURLToPath(new URL('..', import.meta.url));
await import(main.href);
