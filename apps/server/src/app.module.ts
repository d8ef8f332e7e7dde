import { Module, type DynamicModule } from '@nestjs/common';
import { CastController } from './cast/cast.controller.ts';
import { CastSheets } from './cast/CastSheets.ts';
import { PartUsage } from './pages/PartUsage.ts';
import { ReferencePictures } from './cast/ReferencePictures.ts';
import { ReferencesController } from './cast/references.controller.ts';
import { SERVER_CONFIG, type ServerConfig } from './config.ts';
import type { DataFolder } from './data/DataFolder.ts';
import { DatabaseModule } from './database.module.ts';
import { ForeignChecks } from './exchange/ForeignChecks.ts';
import { ForeignController } from './exchange/foreign.controller.ts';
import { ReturnedController } from './exchange/returned.controller.ts';
import { ReturnedFiles } from './exchange/ReturnedFiles.ts';
import { PackageRunner } from './handoffs/PackageRunner.ts';
import { Packages } from './handoffs/Packages.ts';
import { PackagesController } from './handoffs/packages.controller.ts';
import { Profiles } from './handoffs/Profiles.ts';
import { PageHistory } from './pages/PageHistory.ts';
import { DeskController } from './desk/desk.controller.ts';
import { Logbook } from './desk/Logbook.ts';
import { Plans } from './desk/Plans.ts';
import { WorkTimes } from './desk/WorkTimes.ts';
import { JobsController } from './jobs/jobs.controller.ts';
import { JobsService } from './jobs/jobs.service.ts';
import { DrawQueue } from './pages/DrawQueue.ts';
import { PageDocuments } from './pages/PageDocuments.ts';
import { PageExamples } from './pages/PageExamples.ts';
import { PagesController } from './pages/pages.controller.ts';
import { PagesService } from './pages/pages.service.ts';
import { ScannerController } from './scanner/scanner.controller.ts';
import { SimulatedScanner } from './scanner/SimulatedScanner.ts';
import { WorkerPool } from './workers/WorkerPool.ts';

@Module({})
export class AppModule {
  static with(config: ServerConfig, folder: DataFolder): DynamicModule {
    const provideConfig = { provide: SERVER_CONFIG, useValue: config };
    return {
      module: AppModule,
      imports: [
        { module: ConfigModule, providers: [provideConfig], exports: [SERVER_CONFIG], global: true },
        DatabaseModule.with(folder),
      ],
      controllers: [
        JobsController,
        PagesController,
        CastController,
        ReferencesController,
        PackagesController,
        ReturnedController,
        ForeignController,
        ScannerController,
        DeskController,
      ],
      providers: [
        WorkerPool,
        CastSheets,
        PartUsage,
        ReferencePictures,
        PageDocuments,
        PageExamples,
        DrawQueue,
        PageHistory,
        PagesService,
        JobsService,
        Profiles,
        PackageRunner,
        Packages,
        ReturnedFiles,
        ForeignChecks,
        SimulatedScanner,
        WorkTimes,
        Plans,
        Logbook,
      ],
    };
  }
}

@Module({})
class ConfigModule {}
