import { seedDemo } from './seed.ts';

const address = process.argv[2];
if (address === undefined) throw new Error('the address of a running Jumble is missing');
await seedDemo(address);
