import { useEffect, useRef, type ReactNode } from 'react';
import { useBench, useBenchState } from './state/benchContext.ts';

export interface RegionCropProps {
  readonly region: number;
  readonly width: number;
  readonly height: number;
}

/** A small picture of a region and what is around it, drawn by the drawing worker. */
export function RegionCrop({ region, width, height }: RegionCropProps): ReactNode {
  const bench = useBench();
  const canvas = useRef<HTMLCanvasElement>(null);
  const document = useBenchState((state) => state.document);
  const cast = useBenchState((state) => state.cast);
  useEffect(() => {
    let stale = false;
    // Not while a gesture or a burst of keys is under way.
    const timer = setTimeout(() => {
      void bench.engine.crop(region, width, height).then((crop) => {
        if (stale) return;
        const image = new ImageData(new Uint8ClampedArray(crop.pixels), crop.width, crop.height);
        canvas.current?.getContext('2d')?.putImageData(image, 0, 0);
      });
    }, 120);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [bench, region, width, height, document, cast]);
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
