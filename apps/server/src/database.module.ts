import { Module, type DynamicModule } from '@nestjs/common';
import { DataSource } from 'typeorm';
import type { DataFolder } from './data/DataFolder.ts';
import { FILE_STORE } from './storage/FileStore.ts';
import { StoredFiles } from './storage/StoredFiles.ts';
import { WriteQueue } from './database/WriteQueue.ts';

/** What is kept: the database (read through {@link DataSource}, written through {@link WriteQueue}) and the files. */
@Module({})
export class DatabaseModule {
  static with(folder: DataFolder): DynamicModule {
    return {
      module: DatabaseModule,
      global: true,
      providers: [
        { provide: DataSource, useValue: folder.reader },
        { provide: WriteQueue, useValue: folder.queue },
        { provide: FILE_STORE, useValue: folder.files },
        StoredFiles,
        // Closed after everything that uses it: a global module ends last.
        { provide: 'DataFolderEnd', useValue: { onApplicationShutdown: () => folder.close() } },
      ],
      exports: [DataSource, WriteQueue, FILE_STORE, StoredFiles],
    };
  }
}
