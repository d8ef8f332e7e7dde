import { rm } from 'node:fs/promises';
import { type PageView, ScanDto, type ScannerView } from '@jumble/contracts';
import { Body, Controller, Get, Inject, Param, Post } from '@nestjs/common';
import { PagesService } from '../pages/pages.service.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { SimulatedScanner } from './SimulatedScanner.ts';

@Controller('api')
export class ScannerController {
  constructor(
    @Inject(SimulatedScanner) private readonly scanner: SimulatedScanner,
    @Inject(PagesService) private readonly pages: PagesService,
    @Inject(FILE_STORE) private readonly files: FileStore,
  ) {}

  @Get('scanner')
  describe(): Promise<ScannerView> {
    return this.scanner.describe();
  }

  /** Scans a sheet as a new page of a job. */
  @Post('jobs/:jobId/scans')
  async scan(@Param('jobId') jobId: string, @Body() body: ScanDto): Promise<PageView> {
    const path = this.files.incoming();
    try {
      const name = await this.scanner.scan(body.sheetId, body.skewDegrees, path);
      return await this.pages.add(jobId, { path, name: name.replace(/\.png$/, ' scan.png') }, null);
    } finally {
      await rm(path, { force: true });
    }
  }
}
