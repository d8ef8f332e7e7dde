import 'reflect-metadata';
import type { IncomingMessage } from 'node:http';
import { ValidationPipe } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import helmet from 'helmet';
import { rememberPerson } from './history/currentPerson.ts';
import { AppModule } from './app.module.ts';
import type { ServerConfig } from './config.ts';
import { openDataFolder } from './data/DataFolder.ts';
import { ProblemFilter } from './errors/ProblemFilter.ts';
import { BODY_LIMITS } from './limits.ts';
import { checkJsonDepth } from './security/checkJsonDepth.ts';
import { guardLoopback } from './security/guardLoopback.ts';
import { serveWeb } from './serveWeb.ts';

/** What the server makes is its owner's alone. */
const OWN_FILES_UMASK = 0o077;

/**
 * Makes the server, not yet listening.
 *
 * @throws StartError when its data folder cannot be used.
 */
export async function createApp(config: ServerConfig): Promise<NestExpressApplication> {
  process.umask(OWN_FILES_UMASK);
  const folder = await openDataFolder(config.dataFolder);
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(config, folder), {
    logger: ['error', 'warn'],
    abortOnError: false,
    bodyParser: false,
    // A browser keeps sockets open that it has not used yet: they must not hold up the end.
    forceCloseConnections: true,
  });
  app.disable('x-powered-by');
  app.use(
    helmet({
      // Shared memory between the page and its workers needs an isolated page.
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'", "'wasm-unsafe-eval'"],
          'worker-src': ["'self'", 'blob:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'"],
          'connect-src': ["'self'"],
          'object-src': ["'none'"],
          'base-uri': ["'none'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
    }),
  );
  app.use(guardLoopback);
  app.use(rememberPerson);
  for (const { limit, isFor } of BODY_LIMITS) {
    app.useBodyParser('json', {
      limit,
      type: (request: IncomingMessage) => isJson(request) && isFor(pathOf(request)),
      verify: (_request: unknown, _response: unknown, body: Buffer) => checkJsonDepth(body),
    });
  }
  if (config.webFolder !== null) serveWeb(app, config.webFolder);
  app.useGlobalPipes(new ValidationPipe({ whitelist: true, forbidNonWhitelisted: true, transform: true }));
  app.useGlobalFilters(new ProblemFilter());
  app.enableShutdownHooks();
  return app;
}

function isJson({ headers }: IncomingMessage): boolean {
  return /^application\/json\b/i.test(headers['content-type'] ?? '');
}

/** The path alone, as it came: it need not be well formed. */
function pathOf({ url = '' }: IncomingMessage): string {
  return url.split('?', 1)[0]!;
}
