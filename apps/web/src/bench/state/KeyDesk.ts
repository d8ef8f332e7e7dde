import {
  assignRegions,
  colourOfPart,
  editFill,
  editKey,
  editRuling,
  parseColour,
  type Fill,
  type KeyMatch,
  type KeyPlace,
  type KeyProposal,
  type KeyRaster,
  type ResolvedFills,
} from '@jumble/core';
import type { ReferencePictureView } from '@jumble/contracts';
import { mutate } from 'swr';
import { problemOf, request } from '../../api/http.ts';
import type { Engine } from '../engine/Engine.ts';
import { readKeyFile } from './readKeyFile.ts';
import { stampAfter, type BenchState, type FlatsState, type KeyOnPage } from './benchState.ts';
import type { GapDesk } from './GapDesk.ts';
import type { PendingStep } from './SyncQueue.ts';
import { counted } from '../../measures.ts';

/** What the key desk needs of its bench. */
export interface KeyPorts {
  readonly state: BenchState;
  readonly engine: Pick<Engine, 'readKey' | 'stopReadingKey'>;
  readonly gaps: Pick<GapDesk, 'inTurn' | 'settle'>;
  push(step: PendingStep): void;
  previewGiven(regions: Iterable<number>, partId: string | null): number;
  refresh(): void;
  showFlats(part: Partial<FlatsState>): void;
  fail(error: Error): void;
}

/** Proposals of a key from this confidence on are taken without a look, unless the flatter says otherwise. */
const SURE_FROM = 0.85;
/** The page's regions have to explain so much of a key, and so much more than of the key lying the wrong way round. */
const LEAST_EXPLAINED = 0.6;
const LEAST_MATCH = 0.1;

/** Where keys come from and are kept. */
export interface KeyFiles {
  read(file: File): Promise<KeyRaster>;
  keep(jobId: string, file: File): Promise<{ readonly id: string }>;
  fetch(picture: string, name: string): Promise<KeyRaster>;
}

/** Kept among the job's reference pictures. */
const KEY_FILES: KeyFiles = {
  read: readKeyFile,
  keep: async (jobId, file) => {
    const form = new FormData();
    form.append('file', file);
    const url = `/api/jobs/${jobId}/references`;
    const kept = await request<ReferencePictureView>('POST', url, form);
    // The list beside the cast sheet shows it too.
    await mutate(url);
    return kept;
  },
  fetch: async (picture, name) => {
    const response = await fetch(`/api/references/${picture}/picture`);
    if (response.status === 404) throw new Error(`The key "${name}" is no longer there. Load it again.`);
    if (!response.ok) throw await problemOf(response);
    return readKeyFile(new File([await response.blob()], name));
  },
};

/** The colourist's key: laid over the page, read, and taken. */
export class KeyDesk {
  /** Picture that is on its way. */
  private fetching: string | null = null;
  /** A key that comes is laid and kept before it is taken. */
  private loading = false;
  /** The key as it was laid last. */
  private laying: KeyOnPage | null = null;

  constructor(
    private readonly bench: KeyPorts,
    private readonly files: KeyFiles = KEY_FILES,
  ) {}

  /** Takes a file as the key of this page: lays it, and keeps it with the page. */
  async load(file: File): Promise<void> {
    const jobId = this.bench.state.page?.jobId;
    if (jobId === undefined) return;
    const raster = await this.files.read(file);
    this.loading = true;
    try {
      await this.lay(file.name, raster);
      const { id } = await this.files.keep(jobId, file);
      const { key } = this.bench.state.flats;
      // It was put away, or another one was laid meanwhile.
      if (key === null || key.raster !== raster) return;
      this.bench.showFlats({ key: { ...key, picture: id } });
      this.bench.push({ label: 'Lay a key', edits: [editKey({ picture: id, name: file.name })] });
    } finally {
      this.loading = false;
      await this.takeIfAsked();
    }
  }

  /** Lays the key that is kept with the page, or puts it away, where the page came to say something else. */
  async follow(): Promise<void> {
    const { document: page, flats, survey } = this.bench.state;
    if (page === null || survey === null || flats.way !== 'key') return;
    const laid = flats.key?.picture ?? null;
    if (page.key === null) {
      if (laid !== null) this.putAway();
      return;
    }
    const { picture, name } = page.key;
    if (picture === laid || picture === this.fetching) return;
    this.fetching = picture;
    try {
      await this.lay(name, await this.files.fetch(picture, name), null, picture);
    } catch (error) {
      this.bench.fail(error as Error);
    } finally {
      this.fetching = null;
    }
  }

  /** Lays a key over the page and reads it. @param picture what it is kept as. */
  async lay(
    name: string,
    raster: KeyRaster,
    place: KeyPlace | null = null,
    picture: string | null = null,
  ): Promise<void> {
    const { cast, document: page, flats } = this.bench.state;
    if (cast === null || page === null) return;
    // Of two keys, or of one in two places, the later counts.
    this.bench.engine.stopReadingKey();
    const before = flats.key?.match ?? null;
    const laid: KeyOnPage = {
      name,
      picture,
      raster,
      match: before === null || place === null ? before : { ...before, place },
      reading: null,
      share: 0,
      takeOnceWhole: false,
      splits: [],
      sureFrom: flats.key?.sureFrom ?? SURE_FROM,
    };
    this.laying = laid;
    this.bench.showFlats({ key: laid });
    // What is left empty shows paper.
    const parts = cast.parts.map(({ id, empty, groupId }) => ({
      id,
      group: groupId,
      rgb: empty ? 0xffffff : parseColour(colourOfPart(cast, id, page.scene)),
    }));
    await this.bench.gaps.inTurn(async () => {
      try {
        if (this.laying !== laid) return;
        const read = await this.bench.engine.readKey(
          raster,
          place,
          parts,
          (share) => this.show(laid, { share }),
          ({ match, reading }) => {
            this.show(laid, { match, reading });
            this.bench.refresh();
          },
        );
        this.show(laid, { match: read.match, reading: read.reading, splits: read.splits, share: 1 });
        this.bench.refresh();
      } catch (error) {
        if (this.laying !== laid) return;
        this.putAway();
        throw error;
      }
    });
    if (!this.loading) await this.takeIfAsked();
  }

  /** Takes a key that was asked for before all of it was known. */
  private async takeIfAsked(): Promise<void> {
    const { key } = this.bench.state.flats;
    if (key?.takeOnceWhole !== true || key.reading?.isWhole !== true) return;
    this.bench.showFlats({ key: { ...key, takeOnceWhole: false } });
    // A key of another page is looked at first.
    if (key.match !== null && keyFits(key.match)) await this.take();
  }

  /** Shows more of a key while it is the one that is laid; it may have been kept meanwhile. */
  private show(laid: KeyOnPage, more: Partial<KeyOnPage>): void {
    const { key } = this.bench.state.flats;
    if (key !== null && this.laying === laid) this.bench.showFlats({ key: { ...key, ...more } });
  }

  /** Moves the key by page px. */
  nudge(dx: number, dy: number): void {
    const { key } = this.bench.state.flats;
    if (key === null || key.match === null) return;
    const { place } = key.match;
    const moved = {
      ...place,
      shiftX: place.shiftX - dx * place.scaleX,
      shiftY: place.shiftY - dy * place.scaleY,
    };
    void this.lay(key.name, key.raster, moved, key.picture);
  }

  /** Puts the key away; the picture stays among the references. */
  drop(): void {
    const isKept = this.bench.state.document?.key !== null;
    this.putAway();
    if (isKept) this.bench.push({ label: 'Put the key away', edits: [editKey(null)] });
  }

  private putAway(): void {
    this.laying = null;
    this.bench.engine.stopReadingKey();
    this.bench.showFlats({ key: null });
    this.bench.refresh();
  }

  /** Proposals of the key for regions that have no part, or none that is sure. */
  private proposed(): readonly KeyProposal[] {
    const { flats, resolved } = this.bench.state;
    if (resolved === null) return [];
    return (flats.key?.reading?.proposals ?? []).filter((one) => mayPropose(one.region, resolved));
  }

  /** Shows what the key proposes, as if it was taken. */
  preview(): void {
    const { flats, stage } = this.bench.state;
    // What done pages propose is looked at by itself.
    if (flats.way !== 'key' || stage !== 'flats' || flats.examples !== null) return;
    const ofPart = new Map<string, number[]>();
    for (const { region, part } of this.proposed()) {
      const list = ofPart.get(part);
      if (list === undefined) ofPart.set(part, [region]);
      else list.push(region);
    }
    for (const [part, regions] of ofPart) this.bench.previewGiven(regions, part);
  }

  setSureFrom(sureFrom: number): void {
    const { key } = this.bench.state.flats;
    if (key !== null) this.bench.showFlats({ key: { ...key, sureFrom } });
  }

  /** Takes the key's proposals for regions without a part, once all of them are known; the doubtful ones are listed to be looked at. */
  async take(): Promise<void> {
    const { flats, survey, document: page, resolved } = this.bench.state;
    const { key } = flats;
    if (key === null || survey === null || page === null || resolved === null) return;
    if (key.reading?.isWhole !== true) {
      this.bench.showFlats({ key: { ...key, takeOnceWhole: true } });
      return;
    }
    const stamp = stampAfter(page);
    const proposed = this.proposed();
    const cleared = assignRegions(
      survey,
      page.fills,
      resolved,
      proposed.map((one) => one.region),
      null,
      stamp,
    );
    const given = proposed.map(({ region, part, confidence }) => {
      const at = survey.regions.anchor[region]!;
      const x = at % survey.width;
      const y = (at - x) / survey.width;
      const sure = confidence >= key.sureFrom;
      const fill: Fill = { part, anchors: [[x, y]], stamp, by: 'key', ...(sure ? {} : { look: 'key' }) };
      return editFill(`${x},${y}`, fill);
    });
    // A region in several colours leaks: the cuts between them close, and each piece has its own.
    const open = new Set(proposed.map((one) => one.region));
    const split = key.splits
      .filter((one) => open.has(one.region))
      .flatMap(({ closures, pieces }) => [
        ...closures.map((key) => editRuling(key, 'closed')),
        ...pieces.map(({ part, at }) => {
          const x = at % survey.width;
          const y = (at - x) / survey.width;
          return editFill(`${x},${y}`, { part, anchors: [[x, y]], stamp: stamp + 1, by: 'key' });
        }),
      ]);
    const edits = [...new Map([...cleared, ...given, ...split].map((edit) => [edit.key, edit])).values()];
    const label = `Accept ${counted(given.length, 'part')} from the key`;
    if (split.length > 0) await this.bench.gaps.settle(label, edits);
    else if (given.length > 0) this.bench.push({ label, edits });
  }
}

/** A key speaks where nothing is decided: no part, or one that somebody still has to look at. */
export function mayPropose(region: number, { partOfRegion, looks }: ResolvedFills): boolean {
  return partOfRegion[region] === null || looks.has(region);
}

/** Whether a key belongs to the page it lies on. */
export function keyFits(match: KeyMatch): boolean {
  return match.explained >= Math.max(LEAST_EXPLAINED, match.elsewhere + LEAST_MATCH);
}

/** How many proposals of a key are taken as they are, and how many have to be looked at. */
export function countProposals(
  { reading, sureFrom }: KeyOnPage,
  resolved: ResolvedFills | null,
): { readonly sure: number; readonly doubtful: number } {
  let [sure, doubtful] = [0, 0];
  for (const { region, confidence } of reading?.proposals ?? []) {
    if (resolved === null || !mayPropose(region, resolved)) continue;
    if (confidence >= sureFrom) sure++;
    else doubtful++;
  }
  return { sure, doubtful };
}
