import {
  type AppendedView,
  type DocumentView,
  type PageView,
  type PartUsageView,
  StepBackDto,
  type StepView,
  UpdatePageDto,
  readAppendEdits,
} from '@jumble/contracts';
import { MAX_DPI, MIN_DPI, type ExamplePage } from '@jumble/core';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  Patch,
  Post,
  Put,
  Query,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import type { Response } from 'express';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { PartUsage } from './PartUsage.ts';
import { PageHistory } from './PageHistory.ts';
import { FILE_STORE, type FileStore } from '../storage/FileStore.ts';
import { DrawQueue } from './DrawQueue.ts';
import { PageDocuments } from './PageDocuments.ts';
import { PageExamples } from './PageExamples.ts';
import { PagesService } from './pages.service.ts';
import { pageView } from './pageView.ts';
import { arrivedFile } from '../uploads/receivePageFile.ts';
import { PageFileInterceptor } from '../uploads/PageFileInterceptor.ts';
import { sendDownload, sendFile } from '../storage/sendFile.ts';

@Controller('api')
export class PagesController {
  constructor(
    @Inject(PagesService) private readonly pages: PagesService,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(PageHistory) private readonly history: PageHistory,
    @Inject(PartUsage) private readonly partUsage: PartUsage,
    @Inject(PageExamples) private readonly pageExamples: PageExamples,
    @Inject(DrawQueue) private readonly drawQueue: DrawQueue,
    @Inject(FILE_STORE) private readonly files: FileStore,
  ) {}

  @Post('jobs/:jobId/pages')
  @UseInterceptors(PageFileInterceptor)
  async add(
    @Param('jobId') jobId: string,
    @UploadedFile() file: Express.Multer.File | undefined,
    @Query('dpi') dpi: string | undefined,
  ): Promise<PageView> {
    return this.pages.add(jobId, arrivedFile(file), readDpi(dpi));
  }

  @Put('pages/:id/file')
  @UseInterceptors(PageFileInterceptor)
  replace(@Param('id') id: string, @UploadedFile() file: Express.Multer.File | undefined): Promise<PageView> {
    return this.pages.replace(id, arrivedFile(file));
  }

  /** Works on a large page at half its size. */
  @Post('pages/:id/half')
  halve(@Param('id') id: string): Promise<PageView> {
    return this.pages.halve(id);
  }

  /** Adds a further ink file to a page. */
  @Post('pages/:id/inks')
  @UseInterceptors(PageFileInterceptor)
  addInk(@Param('id') id: string, @UploadedFile() file: Express.Multer.File | undefined): Promise<PageView> {
    return this.pages.addInk(id, arrivedFile(file));
  }

  @Delete('pages/:id/inks/:inkId')
  removeInk(@Param('id') id: string, @Param('inkId') inkId: string): Promise<PageView> {
    return this.pages.removeInk(id, inkId);
  }

  /** What a revision changed was looked at. */
  @Delete('pages/:id/revision')
  settleRevision(@Param('id') id: string): Promise<PageView> {
    return this.pages.settleRevision(id);
  }

  @Get('pages/:id')
  async get(@Param('id') id: string): Promise<PageView> {
    return pageView(await this.pages.find(id));
  }

  @Patch('pages/:id')
  update(@Param('id') id: string, @Body() body: UpdatePageDto): Promise<PageView> {
    return this.pages.update(id, body);
  }

  @Delete('pages/:id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.pages.remove(id);
  }

  /** The grey raster, `width * height` bytes, compressed on the way. */
  @Get('pages/:id/grey/:hash')
  async grey(@Param('id') id: string, @Param('hash') hash: string, @Res() response: Response): Promise<void> {
    const page = await this.pages.find(id);
    const known = [page.greyHash, page.previousGreyHash, ...page.inks.map((ink) => ink.greyHash)];
    if (!known.includes(hash)) throw notFound('raster; the page has a revised file');
    response.setHeader('Content-Encoding', 'gzip');
    await sendFile(response, this.files.pathOf('grey', hash), 'application/octet-stream');
  }

  /** The gaps found in a page, JSON, compressed on the way. */
  @Get('pages/:id/cuts/:hash')
  async cuts(@Param('id') id: string, @Param('hash') hash: string, @Res() response: Response): Promise<void> {
    const page = await this.pages.find(id);
    if (page.cutsHash !== hash) throw notFound('gaps; the page was read anew');
    response.setHeader('Content-Encoding', 'gzip');
    await sendFile(response, this.files.pathOf('cuts', hash), 'application/json');
  }

  @Get('pages/:id/thumbnail/:hash')
  async thumbnail(@Param('id') id: string, @Param('hash') hash: string, @Res() response: Response): Promise<void> {
    const page = await this.pages.find(id);
    if (page.thumbnailHash !== hash) throw notFound('thumbnail');
    await sendFile(response, this.files.pathOf('thumbnail', hash), 'image/png');
  }

  /** The file as it was given to us. */
  @Get('pages/:id/file')
  async original(@Param('id') id: string, @Res() response: Response): Promise<void> {
    const page = await this.pages.find(id);
    await sendDownload(response, { path: this.files.pathOf('original', page.fileHash), name: page.fileName });
  }

  /** Regions of the job's done pages, with their parts. */
  @Get('pages/:id/examples')
  examples(@Param('id') id: string): Promise<ExamplePage[]> {
    return this.pageExamples.near(id);
  }

  @Get('pages/:id/document')
  async document(@Param('id') id: string): Promise<DocumentView> {
    const { revision, records } = await this.documents.load(id);
    return { revision, records: [...records] };
  }

  @Post('pages/:id/edits')
  async append(@Param('id') id: string, @Body() body: unknown): Promise<AppendedView> {
    const { baseRevision, label, edits } = readAppendEdits(body);
    const step = await this.documents.append(id, baseRevision, label, edits);
    this.drawQueue.pageChanged(id);
    return { step };
  }

  /** Where each part of a job is used: pages, and places on each of them. */
  @Get('jobs/:jobId/cast/usage')
  usage(@Param('jobId') jobId: string): Promise<PartUsageView[]> {
    return this.partUsage.of(jobId);
  }

  /** The log of the page and of its job's cast sheet, oldest first. */
  @Get('pages/:id/history')
  async log(@Param('id') id: string): Promise<Omit<StepView, 'edits'>[]> {
    return this.history.log(await this.pages.find(id));
  }

  @Post('pages/:id/history')
  async step(@Param('id') id: string, @Body() body: StepBackDto): Promise<AppendedView> {
    const page = await this.pages.find(id);
    const step = await this.history.step(page, body.direction);
    if (step.scope === 'page') this.drawQueue.pageChanged(id);
    else this.drawQueue.castChanged(page.jobId);
    return { step };
  }
}

function readDpi(text: string | undefined): number | null {
  if (text === undefined || text === '') return null;
  const dpi = Number(text);
  if (!Number.isFinite(dpi) || dpi < MIN_DPI || dpi > MAX_DPI) {
    throw new DomainError(
      400,
      'bad-value',
      `\`dpi\` must be a number from ${MIN_DPI} to ${MAX_DPI}. Nothing was stored.`,
    );
  }
  return dpi;
}
