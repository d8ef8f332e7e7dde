import type { JobPlan, PageFacts, PagePlan } from '@jumble/contracts';
import { DEFAULT_CALENDAR } from '@jumble/core';

export const FACTS: PageFacts = { regions: 40, gaps: 6, looseEnds: 9, panels: 3, openGaps: 0, isCertified: false };

/** A page with all of its regions filled, otherwise as said. */
export const somePage = (over: Partial<PagePlan> = {}): PagePlan => ({
  id: 'p',
  name: 'Page 1',
  position: 0,
  thumbnailHash: null,
  bookNumber: null,
  isSpread: false,
  dueOn: null,
  person: null,
  agreed: null,
  regionCount: 40,
  filledCount: 40,
  facts: FACTS,
  handedOff: null,
  seconds: {},
  estimate: null,
  left: null,
  ...over,
});

export const someJob = (pages: readonly PagePlan[], over: Partial<JobPlan> = {}): JobPlan => ({
  id: 'j',
  name: 'Night tram',
  series: null,
  client: null,
  dueOn: null,
  rate: null,
  calendar: DEFAULT_CALENDAR,
  pages,
  forecast: { minutesLeft: 0, minutesADay: 360, pace: 'calendar', doneOn: null, earliest: null, latest: null },
  lastDays: [],
  pay: null,
  days: [],
  ...over,
});
