import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { readConfig } from './config.ts';
import { createApp } from './createApp.ts';
import { StartError } from './errors/StartError.ts';

try {
  const config = readConfig(process.env, fileURLToPath(new URL('./pageWorker.js', import.meta.url)));
  const app = await createApp(config);
  await app.init();
  const port = await listen(app.getHttpServer() as Server, config.port);
  process.stdout.write(`Jumble is open at http://127.0.0.1:${port}\n`);
} catch (error) {
  // A fault of our own keeps its trace: somebody has to find it.
  const words = error instanceof StartError ? error.message : error instanceof Error ? error.stack : String(error);
  process.stderr.write(`Jumble cannot start. ${words}\n`);
  process.exit(1);
}

/** Listens on this machine alone. The framework's own way writes an error with its trace before it throws it. */
function listen(server: Server, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', ({ code, message }: NodeJS.ErrnoException) =>
      reject(
        new StartError(
          code === 'EADDRINUSE'
            ? `Port ${port} is in use. Stop what runs there, or choose another: PORT=4400`
            : `Port ${port} cannot be opened (${code ?? message}). Choose another: PORT=4400`,
        ),
      ),
    );
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}
