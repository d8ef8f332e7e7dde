import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { Global, Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { SERVER_CONFIG, type ServerConfig } from '../config.ts';
import { ENTITIES } from './entities.ts';
import { CastMerging1764316800000 } from './migrations/CastMerging1764316800000.ts';
import { CastStacking1764403200000 } from './migrations/CastStacking1764403200000.ts';
import { Initial1764043200000 } from './migrations/Initial1764043200000.ts';
import { LineArt1764230400000 } from './migrations/LineArt1764230400000.ts';
import { StoredCuts1764489600000 } from './migrations/StoredCuts1764489600000.ts';
import { WriteQueue } from './WriteQueue.ts';

@Global()
@Module({
  imports: [
    TypeOrmModule.forRootAsync({
      inject: [SERVER_CONFIG],
      useFactory: (config: ServerConfig) => {
        mkdirSync(config.dataFolder, { recursive: true });
        return {
          type: 'better-sqlite3' as const,
          database: join(config.dataFolder, 'jumble.sqlite'),
          entities: ENTITIES,
          migrations: [
            Initial1764043200000,
            LineArt1764230400000,
            CastMerging1764316800000,
            CastStacking1764403200000,
            StoredCuts1764489600000,
          ],
          migrationsRun: true,
          enableWAL: true,
          prepareDatabase: (database: { pragma(text: string): unknown }) => {
            database.pragma('foreign_keys = ON');
            // An acknowledged edit survives a killed process and a power cut.
            database.pragma('synchronous = FULL');
            database.pragma('busy_timeout = 5000');
          },
        };
      },
    }),
    TypeOrmModule.forFeature(ENTITIES),
  ],
  providers: [WriteQueue],
  exports: [TypeOrmModule, WriteQueue],
})
export class DatabaseModule {}
