import { fileURLToPath } from 'node:url';
import { readConfig } from './config.ts';
import { createApp } from './createApp.ts';
import { StartError } from './errors/StartError.ts';

try {
  const config = readConfig(process.env, fileURLToPath(new URL('./pageWorker.js', import.meta.url)));
  const app = await createApp(config);
  await app.listen(config.port, '127.0.0.1').catch((error: NodeJS.ErrnoException) => {
    throw new StartError(
      error.code === 'EADDRINUSE'
        ? `Port ${config.port} is in use. Stop what runs there, or choose another: PORT=4400`
        : `Port ${config.port} cannot be opened (${error.code ?? error.message}). Choose another: PORT=4400`,
    );
  });
  process.stdout.write(`Jumble is open at ${(await app.getUrl()).replace('[::1]', '127.0.0.1')}\n`);
} catch (error) {
  // A fault of our own keeps its trace: somebody has to find it.
  const words = error instanceof StartError ? error.message : error instanceof Error ? error.stack : String(error);
  process.stderr.write(`Jumble cannot start. ${words}\n`);
  process.exit(1);
}
