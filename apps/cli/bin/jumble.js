#!/usr/bin/env node
// The command line is TypeScript, loaded as it stands: there is no build to forget.
import { register } from 'tsx/esm/api';

register();
const { main } = await import('../src/main.ts');
process.exitCode = await main(process.argv);
