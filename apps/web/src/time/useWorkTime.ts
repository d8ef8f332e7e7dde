import type { AddTimeDto, TimeStage } from '@jumble/contracts';
import dayjs from 'dayjs';
import { useEffect, useRef, useState } from 'react';
import { request } from '../api/http.ts';
import { person } from '../api/person.ts';
import { idleMinutes } from './idleMinutes.ts';
import { TimeKeeper } from './TimeKeeper.ts';

/** Longest piece that the server takes at once, in ms. */
const PIECE_MS = 10 * 60_000;
const TICK_MS = 5000;
const ACTS = ['pointerdown', 'pointermove', 'wheel', 'keydown'] as const;

/** Time away that could have been work. */
export interface Away {
  readonly fromMs: number;
  readonly toMs: number;
}

/** Counts the time of who works on a page, by stage. @returns time away to ask about, and the answer. */
export function useWorkTime(
  pageId: string,
  stage: TimeStage,
): { readonly away: Away | null; readonly answer: (wasWork: boolean) => void } {
  const [away, setAway] = useState<Away | null>(null);
  const now = useRef({ pageId, stage });
  const send = useRef((fromMs: number, toMs: number): void => void sendTime(now.current, fromMs, toMs));
  useEffect(() => {
    now.current = { pageId, stage };
    const place = now.current;
    const keeper = new TimeKeeper(idleMinutes() * 60_000, {
      onWorked: (from, to) => void sendTime(place, from, to),
      onBack: (fromMs, toMs) => setAway({ fromMs, toMs }),
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
  }, [pageId, stage]);
  return {
    away,
    answer: (wasWork) => {
      if (wasWork && away !== null) send.current(away.fromMs, away.toMs);
      setAway(null);
    },
  };
}

/** Spans that could not be sent: they go with the next one. */
const waiting: { readonly url: string; readonly body: AddTimeDto }[] = [];

async function sendTime(
  { pageId, stage }: { readonly pageId: string; readonly stage: TimeStage },
  fromMs: number,
  toMs: number,
): Promise<void> {
  for (let from = fromMs; from < toMs; from += PIECE_MS) {
    const to = Math.min(toMs, from + PIECE_MS);
    const body = {
      person: person(),
      stage,
      fromMs: Math.round(from),
      toMs: Math.round(to),
      day: dayjs(from).format('YYYY-MM-DD'),
    };
    waiting.push({ url: `/api/pages/${pageId}/time`, body });
  }
  while (waiting.length > 0) {
    const first = waiting.shift()!;
    try {
      await request('POST', first.url, first.body);
    } catch (error) {
      // What the server refuses it will refuse again; while it is away the span waits.
      if ((error as Error).name === 'ConnectionLost') {
        waiting.unshift(first);
        return;
      }
    }
  }
}
