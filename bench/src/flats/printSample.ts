import { PAGE_WIDTH, renderTruth } from '@jumble/demo';
import sharp from 'sharp';
import { makeGuide } from './makeGuide.ts';
import { roughMarks, TRUTH_STEP } from './roughMarks.ts';

/** `printSample.ts marks|key PAGE`: the rough marks of a demo page as JSON, or its key as a PNG in base64. */
const [what, number] = process.argv.slice(2);
const truth = await renderTruth(Number(number));
const height = truth.length / PAGE_WIDTH;
if (what === 'marks') {
  const [w, h] = [Math.floor(PAGE_WIDTH / TRUTH_STEP), Math.floor(height / TRUTH_STEP)];
  const small = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) small[y * w + x] = truth[y * TRUTH_STEP * PAGE_WIDTH + x * TRUTH_STEP]!;
  process.stdout.write(JSON.stringify(roughMarks(small, w, h, 10, 6 + Number(number)).marks));
} else {
  const key = await makeGuide(truth, PAGE_WIDTH, height, 40 + Number(number));
  const png = await sharp(key.rgb, { raw: { width: key.width, height: key.height, channels: 3 } })
    .png()
    .toBuffer();
  process.stdout.write(png.toString('base64'));
}
