import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { tones } from '../theme.ts';
import { useBench, useBenchState } from './state/benchContext.ts';
import { LOUPE_PX, TWO_LOUPES_PX } from './engine/drawLoupe.ts';
import { listenToPointer } from './tools/listenToPointer.ts';
import { STAGES } from './stages/stages.ts';
import { PanningTool } from './tools/PanningTool.ts';
import { resizeView } from './page/look.ts';

export interface PageStageProps {
  /** Is told how the gesture of the tool at hand is given up. */
  readonly onTool: (cancel: () => void) => void;
}

/** The page itself. The canvas is drawn by a worker, outside React. */
export function PageStage({ onTool }: PageStageProps): ReactNode {
  const bench = useBench();
  const host = useRef<HTMLDivElement>(null);
  const loupe = useBenchState((state) => state.loupe);
  const compares = useBenchState((state) => state.stage === 'trap');
  const loupeBox = useRef<HTMLDivElement>(null);
  const pens = useBenchState((state) => state.stage === 'flats' && state.flats.way === 'pen');
  const comparing = useBenchState((state) => state.comparing);
  const { say } = useNotices();
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);

  useEffect(() => {
    const box = host.current!;
    // A canvas can be handed to a worker only once: each bench gets fresh ones.
    const canvas = document.createElement('canvas');
    canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;touch-action:none;display:block';
    canvas.setAttribute('aria-label', 'The page');
    canvas.tabIndex = 0;
    canvas.dataset.testid = 'page';
    box.prepend(canvas);
    const loupeCanvas = document.createElement('canvas');
    loupeCanvas.style.cssText = 'width:100%;height:100%;display:block';
    loupeBox.current!.replaceChildren(loupeCanvas);
    bench.engine.attach(canvas, loupeCanvas);

    const resize = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width > 0 && height > 0)
        resizeView(bench, Math.round(width * devicePixelRatio), Math.round(height * devicePixelRatio));
    });
    resize.observe(box);
    setCanvas(canvas);
    return () => {
      resize.disconnect();
      canvas.remove();
    };
  }, [bench]);

  // Each stage has its own tool; it changes at once: the pointer may follow the key that chose it closely.
  useEffect(() => {
    if (canvas === null) return;
    let leave = (): void => undefined;
    const take = (): void => {
      leave();
      const stage = STAGES.find(({ name }) => name === bench.state.stage)!;
      const tool = new PanningTool(bench, stage.tool(bench, say));
      onTool(() => tool.cancel());
      const stop = listenToPointer(canvas, bench, tool);
      leave = () => {
        tool.cancel();
        stop();
      };
    };
    take();
    const stop = bench.store.subscribe((now, before) => {
      if (now.stage !== before.stage || now.flats.way !== before.flats.way) take();
    });
    return () => {
      stop();
      leave();
    };
  }, [bench, canvas, onTool, say]);

  return (
    <Box component="main" sx={{ display: 'flex', flex: 1, minWidth: 0, bgcolor: tones.ground }}>
      {comparing && <Original />}
      <Box ref={host} sx={{ position: 'relative', flex: 1, minWidth: 0, overflow: 'hidden' }}>
        <Box
          ref={loupeBox}
          aria-hidden
          sx={{
            position: 'absolute',
            transform: 'translate(-50%, -50%)',
            width: compares ? TWO_LOUPES_PX : LOUPE_PX,
            height: LOUPE_PX,
            borderRadius: compares ? 3 : '50%',
            overflow: 'hidden',
            border: '3px solid #fff',
            boxShadow: '0 0 0 1px #333',
            pointerEvents: 'none',
          }}
          style={{
            left: loupe?.[0] ?? 0,
            top: loupe?.[1] ?? 0,
            visibility: loupe === null ? 'hidden' : 'visible',
          }}
        />
        {pens && <PenRing />}
        <Reading />
        <Pointing />
      </Box>
    </Box>
  );
}

/** What the pen would cover, at the pointer. */
function PenRing(): ReactNode {
  const { nib, sizePx } = useBenchState((state) => state.flats.pen);
  const pointer = useBenchState((state) => state.pointer);
  const view = useBenchState((state) => state.view);
  if (pointer === null || view === null || nib === 'cut') return null;
  // An even pen stands on a corner of pixels, an odd one on a pixel's middle.
  const shift = sizePx % 2 === 0 ? 1 : 0.5;
  const css = (v: number): number => (v * view.scale) / devicePixelRatio;
  const size = Math.max(3, css(sizePx));
  return (
    <Box
      aria-hidden
      sx={{ position: 'absolute', border: '1px solid #222', outline: '1px solid #fff', borderRadius: '50%' }}
      style={{
        pointerEvents: 'none',
        width: size,
        height: size,
        left: css(Math.floor(pointer[0]) + shift - view.x) - size / 2,
        top: css(Math.floor(pointer[1]) + shift - view.y) - size / 2,
      }}
    />
  );
}

/** The file as it came, at the same place and size as the page beside it. */
function Original(): ReactNode {
  const bench = useBench();
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const canvas = document.createElement('canvas');
    canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;display:block';
    canvas.setAttribute('aria-label', 'The file as it came');
    host.current!.prepend(canvas);
    bench.engine.compare(canvas);
    return () => {
      bench.engine.compare(null);
      canvas.remove();
    };
  }, [bench]);
  return (
    <Box
      ref={host}
      sx={{ position: 'relative', flex: 1, minWidth: 0, overflow: 'hidden', borderRight: '3px solid #fff' }}
    >
      <Typography
        variant="caption"
        sx={{ position: 'absolute', left: 8, top: 8, px: 0.75, bgcolor: tones.sheet, borderRadius: 0.5 }}
      >
        as it came
      </Typography>
    </Box>
  );
}

const POINTING = {
  paper: 'Click bare paper: from there on it is white. Escape drops it.',
  ink: 'Click ink: from there on it is black. Escape drops it.',
  panel: 'Drag a rectangle: it becomes a panel. Escape drops it.',
  run: 'Leak test: click where colour should run from.',
  trace: 'Leak trace: click two places that should be apart.',
  'trace-to': 'Now the other place.',
} as const;

/** What the next click says; what is read while the page stays in view. */
function Pointing(): ReactNode {
  const pointing = useBenchState((state) => state.pointing ?? state.leakAsked);
  const again = useBenchState((state) => state.phase === 'again');
  const text = useBenchState((state) => state.phaseText);
  if (pointing === null && !again) return null;
  return (
    <Typography
      variant="body2"
      role="status"
      sx={{
        position: 'absolute',
        left: '50%',
        bottom: 12,
        transform: 'translateX(-50%)',
        px: 1.5,
        py: 0.5,
        bgcolor: tones.sheet,
        borderRadius: 1,
      }}
    >
      {again ? `${text} …` : POINTING[pointing!]}
    </Typography>
  );
}

/** While the page is read: what is done, how far it is; or why it failed. */
function Reading(): ReactNode {
  const phase = useBenchState((state) => state.phase);
  const text = useBenchState((state) => state.phaseText);
  const share = useBenchState((state) => state.phaseShare);
  if (phase === 'ready' || phase === 'again') return null;
  return (
    <Box sx={{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center' }}>
      {phase === 'failed' ? (
        <Alert severity="error" sx={{ maxWidth: 480 }}>
          {text}
        </Alert>
      ) : (
        <Box sx={{ width: 300, p: 2, bgcolor: tones.sheet, borderRadius: 1 }} role="status">
          <Typography variant="body2" gutterBottom>
            {text} …
          </Typography>
          <LinearProgress variant="determinate" value={share * 100} aria-label="Reading the page" />
        </Box>
      )}
    </Box>
  );
}
