import { fileURLToPath } from 'node:url';
import { readConfig } from './config.ts';
import { createApp } from './createApp.ts';

const config = readConfig(process.env, fileURLToPath(new URL('./pageWorker.js', import.meta.url)));
const app = await createApp(config);
await app.listen(config.port, '127.0.0.1').catch((error: NodeJS.ErrnoException) => {
  if (error.code !== 'EADDRINUSE') throw error;
  process.stderr.write(`Port ${config.port} is in use. Stop what runs there, or choose another: PORT=4400\n`);
  process.exit(2);
});
process.stdout.write(`Jumble is open at ${(await app.getUrl()).replace('[::1]', '127.0.0.1')}\n`);
