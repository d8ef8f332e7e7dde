import sharp from 'sharp';

/** What the teapot's inking is made of: a point in each shape, and the part it is for. */
export const TEAPOT_REGIONS = [
  { name: 'body', x: 430, y: 420, part: 'glaze' },
  { name: 'lid', x: 430, y: 268, part: 'glaze' },
  { name: 'knob', x: 430, y: 205, part: 'knob' },
  { name: 'handle', x: 697, y: 400, part: 'glaze' },
  { name: 'spout', x: 180, y: 350, part: 'glaze' },
  { name: 'band', x: 430, y: 557, part: 'knob' },
  { name: 'table', x: 100, y: 650, part: 'table' },
  { name: 'wall', x: 60, y: 60, part: 'wall' },
  { name: 'inside the handle', x: 640, y: 400, part: 'wall' },
] as const;

/** An inking of our own that is not part of the demo: a teapot on a table, in swelling anti-aliased lines. */
export function inkTeapot(): Promise<Buffer> {
  const line = 'fill="#fff" stroke="#000" stroke-linejoin="round" stroke-linecap="round"';
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="860" height="720">
    <rect width="100%" height="100%" fill="#fff"/>
    <path d="M-20 590 C 200 582 600 600 900 588" ${line} stroke-width="6"/>
    <path d="M590 320 C 760 250 790 520 600 520 L 590 470 C 700 480 700 310 600 370 Z" ${line} stroke-width="7"/>
    <path d="M290 470 C 200 460 190 380 130 310 L 200 300 C 240 340 250 370 300 380 Z" ${line} stroke-width="8"/>
    <path d="M290 310 C 230 430 250 560 330 592 L 530 592 C 620 560 630 430 570 310 C 480 290 380 290 290 310 Z" ${line} stroke-width="9"/>
    <path d="M262 520 C 380 545 480 545 598 520 C 590 545 580 555 570 568 C 480 580 370 580 290 568 C 276 552 268 540 262 520 Z" ${line} stroke-width="5"/>
    <path d="M300 306 C 320 225 540 225 560 306 C 480 290 380 290 300 306 Z" ${line} stroke-width="8"/>
    <ellipse cx="430" cy="208" rx="34" ry="26" ${line} stroke-width="7"/>
    <path d="M320 360 C 300 420 305 470 325 500 C 318 460 318 410 320 360 Z" fill="#000"/>
    <path d="M590 590 L 700 640 M 610 588 L 720 630 M 560 596 L 660 645" fill="none" stroke="#000" stroke-width="4" stroke-linecap="round"/>
  </svg>`;
  return sharp(Buffer.from(svg)).png().withMetadata({ density: 300 }).toBuffer();
}
