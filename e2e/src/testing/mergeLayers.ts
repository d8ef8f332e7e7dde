import type { OraImage, OraNode } from '@jumble/formats';
import sharp from 'sharp';

/** Merges an OpenRaster picture by its layers' own modes, one after the other, with 8-bit rounding. */
export async function mergeLayers(image: OraImage): Promise<Uint8Array> {
  const out = new Uint8Array(image.width * image.height * 4);
  const paint = async (nodes: readonly OraNode[]): Promise<void> => {
    for (const node of [...nodes].reverse()) {
      if (node.kind === 'stack') await paint(node.children);
      else {
        const { data, info } = await sharp(node.png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
        for (let y = 0; y < info.height; y++) {
          for (let x = 0; x < info.width; x++) {
            const from = (y * info.width + x) * 4;
            blend(out, ((node.y + y) * image.width + node.x + x) * 4, data, from, node.compositeOp === 'svg:multiply');
          }
        }
      }
    }
  };
  await paint(image.children);
  return out;
}

function blend(out: Uint8Array, at: number, layer: Uint8Array, from: number, multiply: boolean): void {
  const alpha = layer[from + 3]!;
  if (alpha === 0) return;
  const below = out[at + 3]!;
  for (let c = 0; c < 3; c++) {
    const own = layer[from + c]!;
    const under = out[at + c]!;
    const mixed = multiply ? Math.round((own * under) / 255) : own;
    out[at + c] = below === 0 ? own : Math.round((under * (255 - alpha) + mixed * alpha) / 255);
  }
  out[at + 3] = Math.max(alpha, below);
}
