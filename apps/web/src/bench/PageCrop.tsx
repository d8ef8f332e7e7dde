import { useEffect, useRef, type ReactNode } from 'react';
import type { CropOf } from './engine/messages.ts';
import { useBench, useBenchState } from './state/benchContext.ts';

export interface PageCropProps {
  readonly of: CropOf;
  readonly width: number;
  readonly height: number;
  /** A closure over it: a cubic in page px. */
  readonly line?: readonly [number, number, number, number, number, number, number, number];
}

/** A small picture of a place on the page, drawn by the drawing worker. */
export function PageCrop({ of, width, height, line }: PageCropProps): ReactNode {
  const bench = useBench();
  const canvas = useRef<HTMLCanvasElement>(null);
  const document = useBenchState((state) => state.document);
  const cast = useBenchState((state) => state.cast);
  const key = JSON.stringify([of, line]);
  useEffect(() => {
    let stale = false;
    // Not while a gesture or a burst of keys is under way.
    const timer = setTimeout(() => {
      const [place, over] = JSON.parse(key) as [CropOf, PageCropProps['line'] | undefined];
      void bench.engine.crop(place, width, height).then((crop) => {
        const context = canvas.current?.getContext('2d');
        if (stale || context === null || context === undefined) return;
        context.putImageData(new ImageData(new Uint8ClampedArray(crop.pixels), crop.width, crop.height), 0, 0);
        if (over === undefined || over === null || 'region' in place) return;
        const scale = crop.width / place.span;
        const at = (x: number, y: number): [number, number] => [
          (x + 0.5 - place.x) * scale + crop.width / 2,
          (y + 0.5 - place.y) * scale + crop.height / 2,
        ];
        context.beginPath();
        context.moveTo(...at(over[0], over[1]));
        context.bezierCurveTo(...at(over[2], over[3]), ...at(over[4], over[5]), ...at(over[6], over[7]));
        context.strokeStyle = '#d04f2d';
        context.lineWidth = 2.5;
        context.stroke();
      });
    }, 120);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [bench, key, width, height, document, cast]);
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
