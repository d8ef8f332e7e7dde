import type { DrawAnswer, DrawRequest } from '../engine/messages.ts';
import { PageDrawing } from '../engine/PageDrawing.ts';

/** A drawing on a canvas that keeps its pixels and forgets lines; frames come when the test says so. */
export class FakeScreen {
  readonly answers: DrawAnswer[] = [];
  /** What was put on the canvas in the latest frame, in px: how much of it was drawn. */
  putPx = 0;
  words: Uint32Array;
  private frames: (() => void)[] = [];
  private readonly drawing = new PageDrawing({
    answer: (message) => void this.answers.push(message),
    requestFrame: (draw) => void this.frames.push(draw),
  });

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.words = new Uint32Array(width * height);
    globalThis.ImageData = FakeImage as unknown as typeof ImageData;
    const canvas = { width, height, getContext: () => this.context() };
    const loupe = { getContext: () => null };
    this.take({ kind: 'canvas', canvas: canvas as never, loupe: loupe as never });
  }

  take(request: DrawRequest): void {
    this.drawing.take(request);
  }

  /** Draws what is due. */
  frame(): void {
    this.putPx = 0;
    // What a frame asks for comes with the next one.
    for (const draw of this.frames.splice(0)) draw();
  }

  private context(): OffscreenCanvasRenderingContext2D {
    const put = (image: FakeImage, _x: number, _y: number, left: number, top: number, w: number, h: number): void => {
      const from = new Uint32Array(image.data.buffer);
      for (let y = top; y < top + h; y++)
        this.words.set(from.subarray(y * image.width + left, y * image.width + left + w), y * this.width + left);
      this.putPx += w * h;
    };
    return new Proxy({} as Record<string, unknown>, {
      get: (own, name) => (name === 'putImageData' ? put : (own[name as string] ?? (() => ({ width: 0 })))),
    }) as unknown as OffscreenCanvasRenderingContext2D;
  }
}

class FakeImage {
  constructor(
    readonly data: Uint8ClampedArray,
    readonly width: number,
    readonly height: number,
  ) {}
}
