import { useEffect, useRef, type ReactNode } from 'react';
import type { CropOf } from './engine/messages.ts';
import { useBench } from './state/benchContext.ts';

export interface PageCropProps {
  readonly of: CropOf;
  readonly width: number;
  readonly height: number;
  /** A closure over it: a cubic in page px. */
  readonly line?: readonly [number, number, number, number, number, number, number, number];
}

/** A picture waits so long, in ms: not while a gesture or a burst of keys is under way. */
const WAIT_MS = 120;

/** A small picture of a place on the page, drawn by the drawing worker, and anew when the page changes while it is in view. */
export function PageCrop({ of, width, height, line }: PageCropProps): ReactNode {
  const bench = useBench();
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify([of, line]);
  useEffect(() => {
    const [place, over] = JSON.parse(key) as [CropOf, PageCropProps['line'] | undefined];
    let closed = false;
    let inView = typeof IntersectionObserver === 'undefined';
    let due = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const draw = async (): Promise<void> => {
      due = false;
      const crop = await bench.engine.crop(place, width, height);
      const context = canvas.current?.getContext('2d');
      if (closed || context === null || context === undefined) return;
      context.putImageData(new ImageData(new Uint8ClampedArray(crop.pixels), crop.width, crop.height), 0, 0);
      if (over !== undefined && over !== null && !('region' in place)) drawCurve(context, over, place, crop);
    };
    const later = (): void => {
      clearTimeout(timer);
      if (due && inView) timer = setTimeout(() => void draw(), WAIT_MS);
    };
    const observer = inView
      ? null
      : new IntersectionObserver((entries) => {
          inView = entries.at(-1)!.isIntersecting;
          later();
        });
    observer?.observe(canvas.current!);
    const leave = bench.store.subscribe((now, before) => {
      if (now.document === before.document && now.cast === before.cast) return;
      due = true;
      later();
    });
    later();
    return () => {
      closed = true;
      clearTimeout(timer);
      observer?.disconnect();
      leave();
    };
  }, [bench, key, width, height]);
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      style={{ flexShrink: 0, background: '#fff', display: 'block' }}
      aria-hidden
    />
  );
}

function drawCurve(
  context: CanvasRenderingContext2D,
  [x0, y0, x1, y1, x2, y2, x3, y3]: NonNullable<PageCropProps['line']>,
  place: { readonly x: number; readonly y: number; readonly span: number },
  crop: { readonly width: number; readonly height: number },
): void {
  const scale = crop.width / place.span;
  const at = (x: number, y: number): [number, number] => [
    (x + 0.5 - place.x) * scale + crop.width / 2,
    (y + 0.5 - place.y) * scale + crop.height / 2,
  ];
  context.beginPath();
  context.moveTo(...at(x0, y0));
  context.bezierCurveTo(...at(x1, y1), ...at(x2, y2), ...at(x3, y3));
  context.strokeStyle = '#d04f2d';
  context.lineWidth = 2.5;
  context.stroke();
}
