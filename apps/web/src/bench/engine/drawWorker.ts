import type { DrawRequest } from './messages.ts';
import { PageDrawing } from './PageDrawing.ts';

const drawing = new PageDrawing({
  answer: (message, transfer = []) => postMessage(message, { transfer }),
  requestFrame: (draw) => requestAnimationFrame(draw),
});
self.onmessage = (event: MessageEvent<DrawRequest>) => drawing.take(event.data);
