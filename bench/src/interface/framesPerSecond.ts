import type { Page } from '@playwright/test';

/** Frames the drawing worker presents while the view changes at every frame for three seconds. */
export function framesPerSecond(page: Page, how: 'pan' | 'zoom'): Promise<number> {
  return page.evaluate(async (way) => {
    const bench = window.jumbleBench as unknown as {
      state: { view: { x: number; y: number; scale: number; width: number; height: number } };
      engine: { settlePresented: (seq: number, ms: number) => void };
    };
    const settle = bench.engine.settlePresented.bind(bench.engine);
    let frames = 0;
    bench.engine.settlePresented = (seq, ms) => {
      frames++;
      settle(seq, ms);
    };
    const start = { ...bench.state.view, scale: way === 'pan' ? 0.5 : bench.state.view.scale, x: 400, y: 400 };
    const began = performance.now();
    await new Promise<void>((resolve) => {
      const turn = (): void => {
        const t = (performance.now() - began) / 1000;
        if (t > 3) return resolve();
        const swing = Math.sin(t * 2);
        // Whole picture pixels, as the pointer moves it.
        if (way === 'pan')
          window.jumbleCommands.setView({
            ...start,
            x: start.x + Math.round(400 * swing) / start.scale,
            y: start.y + Math.round(300 * swing) / start.scale,
          });
        else window.jumbleCommands.setView({ ...start, scale: 0.12 * 2 ** (1.6 * (1 - Math.cos(t * 2))) });
        requestAnimationFrame(turn);
      };
      turn();
    });
    bench.engine.settlePresented = settle;
    return frames / 3;
  }, how);
}
