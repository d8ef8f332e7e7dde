import { randomUUID } from 'node:crypto';
import { copyFile, rm } from 'node:fs/promises';
import type { ForeignCheckView, PageView } from '@jumble/contracts';
import {
  editColour,
  editGroup,
  editPart,
  formatColour,
  MAX_PARTS,
  parseColour,
  readCastSheet,
  type CastSheet,
  type RecordEdit,
} from '@jumble/core';
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { DataSource, LessThan } from 'typeorm';
import { CastSheets } from '../cast/CastSheets.ts';
import { ForeignCheckEntity, JobEntity } from '../database/entities.ts';
import { WriteQueue } from '../database/WriteQueue.ts';
import { DomainError, notFound } from '../errors/DomainError.ts';
import { DrawQueue } from '../pages/DrawQueue.ts';
import { PageDocuments } from '../pages/PageDocuments.ts';
import { pageInput } from '../pages/pageInput.ts';
import { PagesService } from '../pages/pages.service.ts';
import { pageView } from '../pages/pageView.ts';
import { FILE_STORE, type FileName, type FileStore } from '../storage/FileStore.ts';
import { StoredFiles } from '../storage/StoredFiles.ts';
import type { ArrivedFile } from '../uploads/receivePageFile.ts';
import { WorkerPool } from '../workers/WorkerPool.ts';

type Found = Pick<ForeignCheckView, 'width' | 'height' | 'regionCount' | 'colours' | 'findings'>;

/** What is asked of flats from elsewhere beside what the job asks of its pages. */
export interface ForeignRules {
  /** Whether the colours of the job's cast alone may occur. */
  readonly byCast: boolean;
  readonly mode: 'rgb' | 'cmyk' | null;
}

/** Most findings that are kept of a page from elsewhere. */
const MOST_FINDINGS = 5000;
/** Flats with more colours than this are no flats. */
const MOST_COLOURS = 400;
/** How long a check is kept. */
const KEPT_MS = 7 * 24 * 3600 * 1000;
/** Where colours that no part has go. */
const NEW_GROUP = 'From flats';

/** Pages from elsewhere: line art with flats that others made, checked first, taken over where someone says so. */
@Injectable()
export class ForeignChecks implements OnApplicationBootstrap {
  constructor(
    @Inject(DataSource) private readonly dataSource: DataSource,
    @Inject(WriteQueue) private readonly queue: WriteQueue,
    @Inject(PagesService) private readonly pages: PagesService,
    @Inject(PageDocuments) private readonly documents: PageDocuments,
    @Inject(CastSheets) private readonly sheets: CastSheets,
    @Inject(DrawQueue) private readonly drawQueue: DrawQueue,
    @Inject(WorkerPool) private readonly pool: WorkerPool,
    @Inject(FILE_STORE) private readonly files: FileStore,
    @Inject(StoredFiles) private readonly stored: StoredFiles,
  ) {}

  /** Checks that nobody came back to are let go. */
  async onApplicationBootstrap(): Promise<void> {
    const before = new Date(Date.now() - KEPT_MS).toISOString();
    const old = await this.dataSource.manager.findBy(ForeignCheckEntity, { createdAt: LessThan(before) });
    for (const { id } of old) await this.remove(id);
  }

  /** Keeps the line art until its flats come. */
  async begin(jobId: string, file: ArrivedFile): Promise<{ readonly id: string }> {
    const staged = await this.files.stage('foreign', file.path);
    const id = randomUUID();
    await this.stored.keep([staged], async (manager) => {
      if (!(await manager.existsBy(JobEntity, { id: jobId }))) throw notFound('job');
      await manager.insert(ForeignCheckEntity, {
        id,
        jobId,
        inkName: file.name,
        inkHash: staged.hash,
        flatsName: null,
        flatsHash: null,
        pictureHash: null,
        found: null,
        createdAt: new Date().toISOString(),
      });
    });
    return { id };
  }

  /** Checks the flats that belong to it. @throws DomainError 400 for files that are none, or do not fit each other. */
  async check(id: string, file: ArrivedFile, asked: ForeignRules): Promise<ForeignCheckView> {
    const row = await this.find(id);
    const sheet = readCastSheet((await this.sheets.load(row.jobId)).records);
    const { nearColours, minDpi, inkLimitPercent } = sheet.checks;
    const colours = [...sheet.colours.values()].flatMap((ofScene) => [...ofScene.values()]);
    const pictureTarget = this.files.incoming();
    try {
      const answer = await this.pool.run({
        kind: 'foreignCheck',
        inkPath: this.files.pathOf('foreign', row.inkHash),
        flatsPath: file.path,
        palette: asked.byCast ? [...new Set(colours.map(parseColour))] : null,
        rules: { nearColours, minDpi, inkLimitPercent, mode: asked.mode },
        pictureTarget,
      });
      if ('fault' in answer) throw new DomainError(400, 'not-comparable', `${answer.fault} Nothing was stored.`);
      const { width, height, regionCount, findings } = answer;
      const found: Found = {
        width,
        height,
        regionCount,
        colours: answer.colours
          .map(({ rgb, areaPx }) => ({ colour: formatColour(rgb), areaPx }))
          .slice(0, MOST_COLOURS + 1),
        findings: findings.slice(0, MOST_FINDINGS),
      };
      const staged = [await this.files.stage('foreign', file.path), await this.files.stage('foreign', pictureTarget)];
      const [flats, picture] = staged.map(({ hash }) => hash) as [string, string];
      const change = { flatsName: file.name, flatsHash: flats, pictureHash: picture, found: JSON.stringify(found) };
      await this.stored.keep(staged, async (manager) => {
        const { affected } = await manager.update(ForeignCheckEntity, { id }, change);
        if (affected === 0) throw notFound('check');
      });
      await this.stored.release(filesOfForeign(row).filter(({ hash }) => hash !== row.inkHash));
      return viewOf({ ...row, ...change });
    } finally {
      await rm(pictureTarget, { force: true });
    }
  }

  async get(id: string): Promise<ForeignCheckView> {
    return viewOf(await this.find(id));
  }

  /** Line art and flats in one picture. */
  async picture(id: string): Promise<string> {
    const { pictureHash } = await this.find(id);
    if (pictureHash === null) throw notFound('picture');
    return this.files.pathOf('foreign', pictureHash);
  }

  async remove(id: string): Promise<void> {
    const row = await this.find(id);
    await this.queue.run((manager) => manager.delete(ForeignCheckEntity, { id }));
    await this.stored.release(filesOfForeign(row));
  }

  /**
   * Makes it a page of the job: colours that a part has in the job's first scene are that part, the others become parts of
   * their own; each region gets the part of most of its pixels, and odd pixels become corrections.
   */
  async take(id: string): Promise<PageView> {
    const row = await this.find(id);
    if (row.flatsHash === null || row.found === null) throw notFound('check with flats');
    const { colours } = JSON.parse(row.found) as Found;
    if (colours.length > MOST_COLOURS)
      throw new DomainError(
        422,
        'too-many-colours',
        `These flats have more than ${MOST_COLOURS} colours: they are painted, not flat. Ask for hard-edged flats.`,
      );
    const ink = this.files.incoming();
    await copyFile(this.files.pathOf('foreign', row.inkHash), ink);
    const page = await this.pages.add(row.jobId, { path: ink, name: row.inkName }, null).finally(() => rm(ink, { force: true })); // prettier-ignore
    try {
      const { parts, edits, revision } = await this.partsFor(
        row.jobId,
        colours.map(({ colour }) => colour),
      );
      const entity = await this.pages.find(page.id);
      const { records } = await this.documents.load(page.id);
      const cast = await this.sheets.load(row.jobId);
      const answer = await this.pool.run({
        kind: 'foreignTake',
        ...pageInput(entity, records, cast.records, this.files),
        flatsPath: this.files.pathOf('foreign', row.flatsHash),
        palette: null,
        parts,
      });
      if ('fault' in answer) throw new DomainError(400, 'not-comparable', answer.fault);
      if (edits.length > 0)
        await this.sheets.append(row.jobId, revision, `Add parts from ${row.flatsName ?? ''}`, edits);
      if (answer.edits.length > 0)
        await this.documents.append(page.id, 0, `Take over ${row.flatsName ?? ''}`, answer.edits);
    } catch (error) {
      // Half a page helps nobody.
      await this.pages.remove(page.id);
      throw error;
    }
    await this.drawQueue.drawNow(page.id);
    await this.remove(id);
    return pageView(await this.pages.find(page.id));
  }

  /** Which part each colour is, and the edits that add those the cast lacks. */
  private async partsFor(
    jobId: string,
    colours: readonly string[],
  ): Promise<{ parts: (readonly [number, string])[]; edits: RecordEdit[]; revision: number }> {
    const { records, revision } = await this.sheets.load(jobId);
    const sheet = readCastSheet(records);
    const known = partsByColour(sheet);
    const edits: RecordEdit[] = [];
    const sceneId = sheet.scenes[0]?.id;
    const missing = colours.filter((colour) => !known.has(colour));
    if (sheet.parts.length + missing.length > MAX_PARTS)
      throw new DomainError(422, 'cast-too-large', `A cast sheet holds at most ${MAX_PARTS} parts.`);
    if (missing.length > 0 && sceneId !== undefined) {
      const group = sheet.groups.find(({ name }) => name === NEW_GROUP);
      const groupId = group?.id ?? randomUUID();
      const order = Math.max(0, ...sheet.groups.map((one) => one.order)) + 1;
      if (group === undefined) edits.push(editGroup({ id: groupId, name: NEW_GROUP, order }));
      const first =
        Math.max(0, ...sheet.parts.filter((part) => part.groupId === groupId).map((part) => part.order)) + 1;
      missing.forEach((colour, k) => {
        const id = randomUUID();
        edits.push(editPart({ id, groupId, name: colour, order: first + k, slot: null, empty: false }));
        edits.push(editColour(sceneId, id, colour));
        known.set(colour, id);
      });
    }
    const parts = colours.flatMap((colour): (readonly [number, string])[] => {
      const id = known.get(colour);
      return id === undefined ? [] : [[parseColour(colour), id]];
    });
    return { parts, edits, revision };
  }

  private async find(id: string): Promise<ForeignCheckEntity> {
    const row = await this.dataSource.manager.findOneBy(ForeignCheckEntity, { id });
    if (row === null) throw notFound('check');
    return row;
  }
}

function partsByColour(sheet: CastSheet): Map<string, string> {
  const known = new Map<string, string>();
  const first = sheet.colours.get(sheet.scenes[0]?.id ?? '');
  for (const part of sheet.parts) {
    const colour = part.empty ? undefined : first?.get(part.id);
    if (colour === undefined) continue;
    const plain = formatColour(parseColour(colour));
    if (!known.has(plain)) known.set(plain, part.id);
  }
  return known;
}

/** The files of a check. */
export function filesOfForeign({ inkHash, flatsHash, pictureHash }: ForeignCheckEntity): FileName[] {
  return [inkHash, flatsHash, pictureHash].flatMap((hash): FileName[] => (hash === null ? [] : [{ kind: 'foreign', hash }])); // prettier-ignore
}

function viewOf({ id, inkName, flatsName, found }: ForeignCheckEntity): ForeignCheckView {
  if (found === null) throw notFound('check with flats');
  return { id, inkName, flatsName: flatsName ?? '', ...(JSON.parse(found) as Found) };
}
