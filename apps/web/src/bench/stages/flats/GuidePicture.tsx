import { useEffect, useRef, type ReactNode } from 'react';
import { tones } from '../../../theme.ts';
import type { GuideOnPage } from './flatsState.ts';

/** The key itself, small. */
export function GuidePicture({ guideOnPage: { raster } }: { readonly guideOnPage: GuideOnPage }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context === null || context === undefined) return;
    const image = new ImageData(raster.width, raster.height);
    for (let k = 0; k < raster.width * raster.height; k++) {
      image.data.set(raster.rgb.subarray(k * 3, k * 3 + 3), k * 4);
      image.data[k * 4 + 3] = 255;
    }
    context.putImageData(image, 0, 0);
  }, [raster]);
  return (
    <canvas
      ref={canvas}
      width={raster.width}
      height={raster.height}
      aria-label="The key"
      style={{ width: 46, height: (46 * raster.height) / raster.width, border: `1px solid ${tones.line}` }}
    />
  );
}
