import { ForeignQueryDto, type ForeignCheckView, type PageView } from '@jumble/contracts';
import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  Post,
  Put,
  Query,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import type { Response } from 'express';
import { sendFile } from '../storage/sendFile.ts';
import { PageFileInterceptor } from '../uploads/PageFileInterceptor.ts';
import { arrivedFile } from '../uploads/receivePageFile.ts';
import { ForeignChecks } from './ForeignChecks.ts';

@Controller('api')
export class ForeignController {
  constructor(@Inject(ForeignChecks) private readonly checks: ForeignChecks) {}

  /** Begins a check with the line art. */
  @Post('jobs/:jobId/foreign')
  @UseInterceptors(PageFileInterceptor)
  begin(
    @Param('jobId') jobId: string,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<{ readonly id: string }> {
    return this.checks.begin(jobId, arrivedFile(file));
  }

  /** The flats that belong to it. */
  @Put('foreign/:id/flats')
  @UseInterceptors(PageFileInterceptor)
  check(
    @Param('id') id: string,
    @UploadedFile() file: Express.Multer.File | undefined,
    @Query() { cast, mode }: ForeignQueryDto,
  ): Promise<ForeignCheckView> {
    return this.checks.check(id, arrivedFile(file), { byCast: cast === 'job', mode: mode ?? null });
  }

  @Get('foreign/:id')
  get(@Param('id') id: string): Promise<ForeignCheckView> {
    return this.checks.get(id);
  }

  @Get('foreign/:id/picture')
  async picture(@Param('id') id: string, @Res() response: Response): Promise<void> {
    await sendFile(response, await this.checks.picture(id), 'image/png', false);
  }

  /** Makes it a page of the job. */
  @Post('foreign/:id/take')
  take(@Param('id') id: string): Promise<PageView> {
    return this.checks.take(id);
  }

  @Delete('foreign/:id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.checks.remove(id);
  }
}
