import { CreateJobDto, type JobView, OrderPagesDto, UpdateJobDto } from '@jumble/contracts';
import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Patch, Post, Put } from '@nestjs/common';
import { PagesService } from '../pages/pages.service.ts';
import { JobsService } from './jobs.service.ts';

@Controller('api/jobs')
export class JobsController {
  constructor(
    @Inject(JobsService) private readonly jobs: JobsService,
    @Inject(PagesService) private readonly pages: PagesService,
  ) {}

  @Get()
  list(): Promise<JobView[]> {
    return this.jobs.list();
  }

  @Post()
  create(@Body() body: CreateJobDto): Promise<JobView> {
    return this.jobs.create(body);
  }

  @Get(':id')
  find(@Param('id') id: string): Promise<JobView> {
    return this.jobs.find(id);
  }

  @Patch(':id')
  update(@Param('id') id: string, @Body() body: UpdateJobDto): Promise<JobView> {
    return this.jobs.update(id, body);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id') id: string): Promise<void> {
    return this.jobs.remove(id);
  }

  @Put(':id/pages/order')
  @HttpCode(204)
  order(@Param('id') id: string, @Body() body: OrderPagesDto): Promise<void> {
    return this.pages.order(id, body.pageIds);
  }
}
