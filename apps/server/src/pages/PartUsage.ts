import type { PartUsageView } from '@jumble/contracts';
import { partFinder, readCastSheet, readPageDocument } from '@jumble/core';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { PageEntity } from '../database/entities.ts';
import { PageDocuments } from './PageDocuments.ts';
import { CastSheets } from '../cast/CastSheets.ts';

/** Counts where parts are used, from the page documents alone. */
@Injectable()
export class PartUsage {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
  ) {}

  async of(jobId: string): Promise<PartUsageView[]> {
    const { records } = await this.sheets.load(jobId);
    const sheet = readCastSheet(records);
    const partOf = partFinder(sheet);
    const places = new Map(sheet.parts.map((part) => [part.id, new Map<string, number>()]));
    const pages = await this.dataSource.manager.findBy(PageEntity, { jobId });
    for (const page of pages) {
      const { fills } = readPageDocument((await this.documents.load(page.id)).records);
      for (const { part, anchors } of fills.values()) {
        const ofPage = places.get(partOf(part) ?? '');
        ofPage?.set(page.id, (ofPage.get(page.id) ?? 0) + anchors.length);
      }
    }
    return [...places].map(([partId, ofPage]) => ({
      partId,
      pages: pages.flatMap(({ id, name }) => {
        const count = ofPage.get(id);
        return count === undefined ? [] : [{ pageId: id, name, places: count }];
      }),
    }));
  }
}
