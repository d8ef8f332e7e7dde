import type { Bench } from '../state/Bench.ts';
import { panBy, zoomAt } from '../state/viewport.ts';
import type { PageTool, ToolPointer } from './PageTool.ts';
import { hover, setView, showLoupe } from '../page/look.ts';

/** Turns a mouse wheel's or trackpad's turn into a zoom factor. */
const ZOOM_PER_PX = 0.0016;

/** Connects pointer, wheel, pinch and held keys to the tool. @returns how to disconnect. */
export function listenToPointer(canvas: HTMLCanvasElement, bench: Bench, tool: PageTool): () => void {
  const abort = new AbortController();
  const { signal } = abort;
  const fingers = new Map<number, { x: number; y: number }>();
  let space = false;
  let lastPosition: { x: number; y: number } | null = null;

  const position = (event: { clientX: number; clientY: number }): { x: number; y: number } => {
    const box = canvas.getBoundingClientRect();
    return { x: (event.clientX - box.left) * devicePixelRatio, y: (event.clientY - box.top) * devicePixelRatio };
  };
  const pointerOf = (event: PointerEvent, intent: ToolPointer['intent']): ToolPointer => ({
    ...position(event),
    intent,
  });
  const intentOf = (event: PointerEvent): ToolPointer['intent'] => {
    if (space || event.button === 1) return 'pan';
    // The pen's side button counts as the right one.
    if (event.button === 0 && (event.ctrlKey || event.metaKey)) return 'like';
    return event.button === 2 || event.shiftKey || (event.buttons & 2) !== 0 ? 'take' : 'give';
  };
  const ready = (): boolean => bench.state.view !== null && bench.state.survey !== null;

  const onDown = (event: PointerEvent): void => {
    if (!ready()) return;
    canvas.focus({ preventScroll: true });
    canvas.setPointerCapture(event.pointerId);
    if (event.pointerType === 'touch') {
      fingers.set(event.pointerId, position(event));
      if (fingers.size === 2) tool.cancel();
      if (fingers.size > 1) return;
    }
    tool.down(pointerOf(event, intentOf(event)));
  };
  const onMove = (event: PointerEvent): void => {
    if (!ready()) return;
    lastPosition = position(event);
    if (fingers.has(event.pointerId) && fingers.size === 2) {
      pinch(event);
      return;
    }
    if (bench.state.loupe !== null) moveLoupe();
    const events = tool.active ? event.getCoalescedEvents?.() : undefined;
    const list = events !== undefined && events.length > 0 ? events : [event];
    tool.move(list.map((one) => pointerOf(one, 'give')));
  };
  const pinch = (event: PointerEvent): void => {
    const [a, b] = [...fingers.values()] as [{ x: number; y: number }, { x: number; y: number }];
    const before = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, span: Math.hypot(a.x - b.x, a.y - b.y) };
    Object.assign(fingers.get(event.pointerId)!, position(event));
    const after = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, span: Math.hypot(a.x - b.x, a.y - b.y) };
    const { view } = bench.state;
    if (view === null || before.span === 0) return;
    setView(
      bench,
      zoomAt(panBy(view, after.x - before.x, after.y - before.y), after.span / before.span, after.x, after.y),
    );
  };
  const onUp = (event: PointerEvent): void => {
    const pinched = fingers.size > 1;
    fingers.delete(event.pointerId);
    if (!pinched) tool.up();
  };
  const onWheel = (event: WheelEvent): void => {
    const { view } = bench.state;
    if (view === null) return;
    event.preventDefault();
    const { x, y } = position(event);
    // A wheel turns in large even steps and one direction; a trackpad moves in both. Pinches come with Ctrl.
    const wheel = event.deltaMode === 1 || (event.deltaX === 0 && Math.abs(event.deltaY) >= 50);
    if (event.ctrlKey || wheel) {
      const turn = event.deltaMode === 1 ? event.deltaY * 33 : event.deltaY;
      const strength = event.ctrlKey && !wheel ? ZOOM_PER_PX * 6 : ZOOM_PER_PX;
      setView(bench, zoomAt(view, 2 ** (-turn * strength), x, y));
    } else setView(bench, panBy(view, -event.deltaX * devicePixelRatio, -event.deltaY * devicePixelRatio));
  };
  const moveLoupe = (): void => {
    if (lastPosition !== null) showLoupe(bench, [lastPosition.x / devicePixelRatio, lastPosition.y / devicePixelRatio]);
  };
  const onPress = (event: KeyboardEvent): void => {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
    const pressed = event.type === 'keydown';
    if (event.key === ' ' && (event.target === canvas || event.target === document.body)) {
      space = pressed;
      canvas.style.cursor = pressed ? 'grab' : 'crosshair';
      event.preventDefault();
    }
    if (event.key.toLowerCase() === 'q' && !event.ctrlKey && !event.metaKey) {
      if (pressed) moveLoupe();
      else showLoupe(bench, null);
    }
  };

  canvas.style.cursor = 'crosshair';
  canvas.addEventListener('pointerdown', onDown, { signal });
  canvas.addEventListener('pointermove', onMove, { signal });
  canvas.addEventListener('pointerup', onUp, { signal });
  canvas.addEventListener('pointercancel', () => (fingers.clear(), tool.cancel()), { signal });
  canvas.addEventListener('pointerleave', () => !tool.active && hover(bench, null), { signal });
  canvas.addEventListener('contextmenu', (event) => event.preventDefault(), { signal });
  canvas.addEventListener('wheel', onWheel, { signal, passive: false });
  window.addEventListener('keydown', onPress, { signal });
  window.addEventListener('keyup', onPress, { signal });
  window.addEventListener('blur', () => ((space = false), showLoupe(bench, null)), { signal });
  return () => abort.abort();
}
