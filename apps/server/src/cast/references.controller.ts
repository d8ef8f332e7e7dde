import type { ReferencePictureView } from '@jumble/contracts';
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
import { arrivedFile } from '../uploads/receivePageFile.ts';
import { PageFileInterceptor } from '../uploads/PageFileInterceptor.ts';
import { sendFile } from '../storage/sendFile.ts';
import { ReferencePictures } from './ReferencePictures.ts';

@Controller('api')
export class ReferencesController {
  constructor(@Inject(ReferencePictures) private readonly pictures: ReferencePictures) {}

  @Get('jobs/:jobId/references')
  list(@Param('jobId') jobId: string): Promise<ReferencePictureView[]> {
    return this.pictures.list(jobId);
  }

  @Post('jobs/:jobId/references')
  @UseInterceptors(PageFileInterceptor)
  add(
    @Param('jobId') jobId: string,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<ReferencePictureView> {
    return this.pictures.add(jobId, arrivedFile(file));
  }

  @Get('references/:id/picture')
  async picture(@Param('id') id: string, @Res() response: Response): Promise<void> {
    await sendFile(response, await this.pictures.file(id), 'image/png');
  }

  @Delete('references/:id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.pictures.remove(id);
  }
}
