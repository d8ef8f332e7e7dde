import { readFile } from 'node:fs/promises';
import type { Comparison, Rgba } from './Comparison.ts';
import { readXml, type XmlElement } from './readXml.ts';

/** Reads outlines again: each path is filled by the even-odd rule at the centres of pixels. @throws ReadBackError for the first difference. */
export async function readSvg(path: string, compared: Comparison): Promise<void> {
  const svg = readXml(await readFile(path, 'utf8'));
  const [width, height] = [Number(svg.attributes.width), Number(svg.attributes.height)];
  const words = new Uint32Array(width * height);
  const visit = (element: XmlElement): void => {
    if (element.name === 'path') {
      const rgb = parseInt((element.attributes.fill ?? '').slice(1), 16);
      const word = (0xff000000 | ((rgb & 255) << 16) | (rgb & 0xff00) | (rgb >>> 16)) >>> 0;
      fillPath(element.attributes.d ?? '', words, width, height, word);
    }
    element.children.forEach(visit);
  };
  visit(svg);
  const picture: Rgba = { width, height, data: new Uint8Array(words.buffer) };
  compared.picture('the outlines', picture, compared.flatsWord());
}

const TOKEN = /([MLhvz])|(-?\d+(?:\.\d+)?)/g;

function fillPath(d: string, words: Uint32Array, width: number, height: number, word: number): void {
  /** Places where a row's centre line is crossed. */
  const crossings = new Map<number, number[]>();
  const edge = (x0: number, y0: number, x1: number, y1: number): void => {
    const [top, bottom] = y0 < y1 ? [y0, y1] : [y1, y0];
    for (let row = Math.max(0, Math.ceil(top - 0.5)); row < height && row + 0.5 < bottom; row++) {
      const x = x0 + ((row + 0.5 - y0) * (x1 - x0)) / (y1 - y0);
      const known = crossings.get(row);
      if (known === undefined) crossings.set(row, [x]);
      else known.push(x);
    }
  };
  let [x, y, startX, startY] = [0, 0, 0, 0];
  let command = '';
  const numbers: number[] = [];
  const to = (nextX: number, nextY: number): void => {
    if (nextY !== y) edge(x, y, nextX, nextY);
    [x, y] = [nextX, nextY];
  };
  for (const [, letter, number] of d.matchAll(TOKEN)) {
    if (letter !== undefined) {
      command = letter;
      if (letter === 'z') to(startX, startY);
      continue;
    }
    numbers.push(Number(number));
    if (command === 'h') to(x + numbers.pop()!, y);
    else if (command === 'v') to(x, y + numbers.pop()!);
    else if (numbers.length === 2) {
      const [nextX, nextY] = numbers.splice(0) as [number, number];
      if (command === 'M') [x, y, startX, startY] = [nextX, nextY, nextX, nextY];
      else to(nextX, nextY);
    }
  }
  for (const [row, places] of crossings) {
    places.sort((a, b) => a - b);
    for (let k = 0; k + 1 < places.length; k += 2) {
      const from = Math.max(0, Math.ceil(places[k]! - 0.5));
      const end = Math.min(width, Math.ceil(places[k + 1]! - 0.5));
      if (from < end) words.fill(word, row * width + from, row * width + end);
    }
  }
}
