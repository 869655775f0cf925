#!/usr/bin/env node
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const main = fileURLToPath(new URL('../dist/bundled/main.js', import.meta.url));
if (!existsSync(main)) {
  process.stderr.write('Apodix is not built yet. Run: npm run build\n');
  process.exit(2);
}
await import(main);
