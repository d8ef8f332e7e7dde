import { scenesShown } from '../page/readPageDocument.ts';
import type { PageDocument } from '../model/PageDocument.ts';
import type { Survey } from '../model/Survey.ts';
import { panelOfPoints } from './Panel.ts';

/** The scenes a page shows: its own first, then those its panels have instead. */
export interface PageScenes {
  /** Ids; null is the job's first scene. */
  readonly scenes: readonly (string | null)[];
  /** Place in `scenes` of each region. */
  readonly ofRegion: Int32Array;
}

/** Which scene every region shows, by the panel its deepest point lies in. */
export function scenesOfPage(
  survey: Pick<Survey, 'width' | 'regions'>,
  { scene, panels }: Pick<PageDocument, 'scene' | 'panels'>,
): PageScenes {
  const scenes = scenesShown({ scene, panels });
  const ofRegion = new Int32Array(survey.regions.count);
  if (panels === null || scenes.length === 1) return { scenes, ofRegion };
  const ofPanel = panels.map((panel) => (panel.scene === null ? 0 : scenes.indexOf(panel.scene)));
  const panelOf = panelOfPoints(
    panels.map(({ points }) => ({ points, framed: true })),
    survey.regions.anchor,
    survey.width,
  );
  for (let r = 0; r < ofRegion.length; r++) ofRegion[r] = panelOf[r]! < 0 ? 0 : ofPanel[panelOf[r]!]!;
  return { scenes, ofRegion };
}
