import type { TimeStage } from '@jumble/contracts';
import { useEffect, useState } from 'react';
import { useNotices } from '../notices/NoticeProvider.tsx';
import { idleMinutes } from './idleMinutes.ts';
import { TimeKeeper } from './TimeKeeper.ts';
import { TimeSender, type WorkPlace } from './TimeSender.ts';

const TICK_MS = 5000;
const ACTS = ['pointerdown', 'pointermove', 'wheel', 'keydown'] as const;

/** Time away that could have been work. */
export interface Away {
  readonly place: WorkPlace;
  readonly fromMs: number;
  readonly toMs: number;
}

/** Counts the time of who works on a page, by stage. @returns time away to ask about, and the answer. */
export function useWorkTime(
  pageId: string,
  stage: TimeStage,
): { readonly away: Away | null; readonly answer: (wasWork: boolean) => void } {
  const { fail } = useNotices();
  const [away, setAway] = useState<Away | null>(null);
  const [sender] = useState(() => new TimeSender(fail));
  useEffect(() => {
    const place = { pageId, stage };
    const keeper = new TimeKeeper(idleMinutes() * 60_000, {
      onWorked: (from, to) => sender.add(place, from, to),
      onBack: (fromMs, toMs) => {
        // Time goes forwards: what comes after waits until it is said whether that counts.
        sender.hold();
        setAway({ place, fromMs, toMs });
      },
    });
    const act = (): void => keeper.act(Date.now());
    act();
    for (const kind of ACTS) window.addEventListener(kind, act, { capture: true, passive: true });
    const ticker = setInterval(() => keeper.tick(Date.now()), TICK_MS);
    const leave = (): void => keeper.flush();
    window.addEventListener('pagehide', leave);
    return () => {
      leave();
      clearInterval(ticker);
      window.removeEventListener('pagehide', leave);
      for (const kind of ACTS) window.removeEventListener(kind, act, { capture: true });
    };
  }, [pageId, stage, sender]);
  const answer = (wasWork: boolean): void => {
    sender.release(wasWork ? away : null);
    setAway(null);
  };
  // Who leaves the page has not said that it was work.
  useEffect(() => () => sender.release(null), [sender]);
  return { away, answer };
}
