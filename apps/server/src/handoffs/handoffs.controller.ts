import { CreateHandoffDto, type HandoffView } from '@jumble/contracts';
import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import { sendFile } from '../storage/sendFile.ts';
import { HandoffsService } from './handoffs.service.ts';

const TYPES: Readonly<Record<string, string>> = {
  '.ora': 'image/openraster',
  '.png': 'image/png',
  '.tif': 'image/tiff',
  '.svg': 'image/svg+xml',
  '.pdf': 'application/pdf',
};

@Controller('api')
export class HandoffsController {
  constructor(@Inject(HandoffsService) private readonly handoffs: HandoffsService) {}

  @Get('pages/:pageId/handoffs')
  list(@Param('pageId') pageId: string): Promise<HandoffView[]> {
    return this.handoffs.list(pageId);
  }

  @Post('pages/:pageId/handoffs')
  create(@Param('pageId') pageId: string, @Body() body: CreateHandoffDto): Promise<HandoffView> {
    return this.handoffs.create(pageId, body);
  }

  @Get('handoffs/:id')
  async find(@Param('id') id: string): Promise<HandoffView> {
    return this.handoffs.view(await this.handoffs.find(id));
  }

  /** Stops a build. */
  @Delete('handoffs/:id')
  @HttpCode(204)
  cancel(@Param('id') id: string): Promise<void> {
    return this.handoffs.cancel(id);
  }

  @Get('handoffs/:id/file')
  async file(@Param('id') id: string, @Res() response: Response): Promise<void> {
    const { path, name } = await this.handoffs.file(id);
    response.attachment(name);
    await sendFile(response, path, TYPES[name.slice(name.lastIndexOf('.'))] ?? 'application/octet-stream', false);
  }
}
