import type { Bench } from '../../state/Bench.ts';
import { pagePointAt } from '../../state/viewport.ts';
import type { PageTool, ToolPointer } from '../../tools/PageTool.ts';
import { beginGesture, endGesture, hover } from '../../page/look.ts';
import { regionAtPoint } from '../../page/partColours.ts';
import { assignPart, previewPart } from '../../page/parts.ts';
import { enclosed, setWayDraft, takeLoose } from './flats.ts';
import { beginSilhouette, cancelSilhouette, previewSilhouette, takeSilhouette } from './silhouette.ts';

/** A loop's corners lie at least so far apart, in picture px. */
const CORNER_PX = 3;

const NOTHING_INSIDE =
  'The loop encloses nothing it may take: draw it right round the shapes, or lower the share on the left. Nothing was changed.';

type Gesture =
  | { readonly kind: 'none' }
  | {
      readonly kind: 'loop';
      readonly partId: string | null;
      readonly points: (readonly [number, number])[];
      readonly start: number | null;
      /** All inside the outer contour, not the shapes as they are. */
      readonly silhouette: boolean;
      taken: ReadonlySet<number>;
    };

/**
 * Surround: a rough loop; what it encloses, or all inside the outer contour, takes the current part, and the second way
 * of the same gesture takes parts away. A click the second way takes away what was spread loosely over a place.
 */
export class SurroundTool implements PageTool {
  private gesture: Gesture = { kind: 'none' };

  constructor(
    private readonly bench: Bench,
    private readonly say: (text: string) => void,
  ) {}

  get active(): boolean {
    return this.gesture.kind !== 'none';
  }

  down(pointer: ToolPointer): void {
    const partId = pointer.intent === 'take' ? null : this.bench.state.partId;
    if (pointer.intent !== 'take' && partId === null) return;
    const at = pagePointAt(this.bench.state.view!, pointer);
    const start = pointer.intent === 'take' ? regionAtPoint(this.bench.state, ...at) : null;
    const silhouette = partId !== null && this.bench.state.flats.loopTakes === 'silhouette';
    if (silhouette) beginSilhouette(this.bench);
    this.gesture = { kind: 'loop', partId, points: [at], start, silhouette, taken: new Set() };
    beginGesture(this.bench);
  }

  move(pointers: readonly ToolPointer[]): void {
    const { gesture } = this;
    const last = pointers.at(-1);
    if (last === undefined) return;
    const view = this.bench.state.view!;
    if (gesture.kind === 'loop') {
      for (const pointer of pointers) {
        const [x, y] = pagePointAt(view, pointer);
        const [px, py] = gesture.points.at(-1)!;
        if (Math.hypot(x - px, y - py) * view.scale >= CORNER_PX) gesture.points.push([x, y]);
      }
      setWayDraft(this.bench, [...gesture.points]);
      if (gesture.silhouette) previewSilhouette(this.bench, [...gesture.points], gesture.partId!);
      else this.preview(gesture);
    }
    hover(this.bench, pagePointAt(view, last));
  }

  up(): void {
    const { gesture } = this;
    this.end();
    if (gesture.kind !== 'loop') return;
    if (gesture.points.length < 3) {
      if (gesture.silhouette) cancelSilhouette(this.bench);
      if (gesture.start !== null) takeLoose(this.bench, gesture.start);
      return;
    }
    const nothing = (): void => this.say(NOTHING_INSIDE);
    if (gesture.silhouette)
      void takeSilhouette(this.bench, gesture.points, gesture.partId!).then((any) => any || nothing());
    else if (gesture.taken.size === 0) nothing();
    else assignPart(this.bench, gesture.taken, gesture.partId);
  }

  cancel(): void {
    const { gesture } = this;
    this.end();
    if (gesture.kind !== 'loop') return;
    if (gesture.silhouette) cancelSilhouette(this.bench);
    else this.restore(gesture.taken);
  }

  private end(): void {
    this.gesture = { kind: 'none' };
    endGesture(this.bench);
    setWayDraft(this.bench, []);
  }

  /** Shows what the loop would take if it were closed now. */
  private preview(gesture: Extract<Gesture, { kind: 'loop' }>): void {
    const now = new Set(enclosed(this.bench.state, gesture.points));
    const added = [...now].filter((region) => !gesture.taken.has(region));
    const gone = [...gesture.taken].filter((region) => !now.has(region));
    if (added.length > 0) previewPart(this.bench, added, gesture.partId);
    if (gone.length > 0) this.restore(gone);
    gesture.taken = now;
  }

  private restore(regions: Iterable<number>): void {
    const { resolved } = this.bench.state;
    const byPart = new Map<string | null, number[]>();
    for (const region of regions) {
      const part = resolved?.partOfRegion[region] ?? null;
      const list = byPart.get(part);
      if (list === undefined) byPart.set(part, [region]);
      else list.push(region);
    }
    for (const [part, list] of byPart) previewPart(this.bench, list, part);
  }
}
