import type { ReturnedView } from '@jumble/contracts';
import type { RecordEdit } from '@jumble/core';
import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  Post,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import type { Response } from 'express';
import { sendDownload } from '../storage/sendFile.ts';
import { PageFileInterceptor } from '../uploads/PageFileInterceptor.ts';
import { arrivedFile } from '../uploads/receivePageFile.ts';
import { ReturnedFiles } from './ReturnedFiles.ts';

@Controller('api')
export class ReturnedController {
  constructor(@Inject(ReturnedFiles) private readonly returned: ReturnedFiles) {}

  @Get('pages/:pageId/returned')
  list(@Param('pageId') pageId: string): Promise<ReturnedView[]> {
    return this.returned.list(pageId);
  }

  @Post('pages/:pageId/returned')
  @UseInterceptors(PageFileInterceptor)
  add(@Param('pageId') pageId: string, @UploadedFile() file: Express.Multer.File | undefined): Promise<ReturnedView> {
    return this.returned.add(pageId, arrivedFile(file));
  }

  /** What makes moved places corrections of the page. */
  @Get('returned/:id/corrections')
  async corrections(@Param('id') id: string): Promise<{ readonly edits: readonly RecordEdit[] }> {
    return { edits: await this.returned.corrections(id) };
  }

  /** The file as it came back. */
  @Get('returned/:id/file')
  async file(@Param('id') id: string, @Res() response: Response): Promise<void> {
    await sendDownload(response, await this.returned.file(id));
  }

  @Delete('returned/:id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.returned.remove(id);
  }
}
