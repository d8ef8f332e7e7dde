import { CreatePackageDto, type PackageView, type ProfileView } from '@jumble/contracts';
import { parseColour, readCastSheet } from '@jumble/core';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  Post,
  Query,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import type { Response } from 'express';
import { CastSheets } from '../cast/CastSheets.ts';
import { sendDownload } from '../storage/sendFile.ts';
import { PageFileInterceptor } from '../uploads/PageFileInterceptor.ts';
import { arrivedFile } from '../uploads/receivePageFile.ts';
import { Packages } from './Packages.ts';
import { Profiles } from './Profiles.ts';

@Controller('api')
export class PackagesController {
  constructor(
    @Inject(Packages) private readonly packages: Packages,
    @Inject(Profiles) private readonly profiles: Profiles,
    @Inject(CastSheets) private readonly sheets: CastSheets,
  ) {}

  /** The outbox: what was handed off, of all jobs. */
  @Get('packages')
  outbox(): Promise<PackageView[]> {
    return this.packages.list(null);
  }

  @Get('jobs/:jobId/packages')
  list(@Param('jobId') jobId: string): Promise<PackageView[]> {
    return this.packages.list(jobId);
  }

  @Post('jobs/:jobId/packages')
  create(@Param('jobId') jobId: string, @Body() body: CreatePackageDto): Promise<PackageView> {
    return this.packages.create(jobId, body);
  }

  @Get('packages/:id')
  get(@Param('id') id: string): Promise<PackageView> {
    return this.packages.get(id);
  }

  /** Stops it; what is built is kept. */
  @Post('packages/:id/cancel')
  @HttpCode(200)
  cancel(@Param('id') id: string): Promise<PackageView> {
    return this.packages.cancel(id);
  }

  @Post('packages/:id/resume')
  @HttpCode(200)
  resume(@Param('id') id: string): Promise<PackageView> {
    return this.packages.resume(id);
  }

  @Delete('packages/:id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.packages.remove(id);
  }

  @Get('packages/:id/file')
  async archive(@Param('id') id: string, @Res() response: Response): Promise<void> {
    await sendDownload(response, await this.packages.archive(id));
  }

  /** The file of one page. */
  @Get('handoffs/:id/file')
  async file(@Param('id') id: string, @Res() response: Response): Promise<void> {
    await sendDownload(response, await this.packages.file(id));
  }

  @Get('jobs/:jobId/profiles')
  listProfiles(@Param('jobId') jobId: string): Promise<ProfileView[]> {
    return this.profiles.list(jobId);
  }

  @Post('jobs/:jobId/profiles')
  @UseInterceptors(PageFileInterceptor)
  addProfile(
    @Param('jobId') jobId: string,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<ProfileView> {
    return this.profiles.add(jobId, arrivedFile(file));
  }

  /** Inks in percent of every colour of the cast, by its `#rrggbb`. @param profile id; none is the generic one. */
  @Get('jobs/:jobId/cast/inks')
  async inks(
    @Param('jobId') jobId: string,
    @Query('profile') profile: string | undefined,
  ): Promise<Record<string, readonly number[]>> {
    const { colours } = readCastSheet((await this.sheets.load(jobId)).records);
    const all = [...new Set([...colours.values()].flatMap((ofScene) => [...ofScene.values()]))];
    const inks = await this.profiles.inks(all.map(parseColour), profile ?? null);
    return Object.fromEntries(all.map((colour, k) => [colour, inks[k]!]));
  }
}
