import type { CastSheet, HoldColour, HoldRule, LineSelect } from '@jumble/core';

/** "Inner lines of Coat", "Borders between Coat and Sky". */
export function linesInWords(lines: LineSelect, cast: CastSheet | null): string {
  const nameOf = (id: string): string => cast?.parts.find((part) => part.id === id)?.name ?? 'a part that is gone';
  if ('all' in lines) return 'All lines';
  if ('inside' in lines) return `Inner lines of ${nameOf(lines.inside)}`;
  if ('between' in lines) return `Borders between ${nameOf(lines.between[0])} and ${nameOf(lines.between[1])}`;
  if ('contour' in lines) return `Lines with ${nameOf(lines.contour)} on one side`;
  if ('contourOf' in lines)
    return `Contours of ${cast?.groups.find(({ id }) => id === lines.contourOf)?.name ?? 'a group that is gone'}`;
  if ('but' in lines) return 'All but contours';
  if ('thinnerThanPx' in lines) return `Lines thinner than ${lines.thinnerThanPx} px`;
  if ('widerThanPx' in lines) return `Lines wider than ${lines.widerThanPx} px`;
  if ('at' in lines) return lines.at.length === 1 ? 'A line chosen by hand' : `${lines.at.length} lines chosen by hand`;
  return 'Lines inside a drawn shape';
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** "35 % darker than Coat", "#2040c0". */
export function colourInWords(colour: HoldColour, lines: LineSelect, cast: CastSheet | null): string {
  if (typeof colour === 'string') return colour === '#000000' ? 'black' : colour;
  if ('darken' in colour) {
    const named = 'inside' in lines ? lines.inside : 'contour' in lines ? lines.contour : null;
    const name = named === null ? 'both sides' : (cast?.parts.find((part) => part.id === named)?.name ?? 'its part');
    return `${percent(colour.darken)} darker than ${name}`;
  }
  if ('around' in colour) return `${percent(colour.around.darken)} darker than ${colour.around.radiusPx} px around`;
  if ('gradient' in colour) return `from ${colour.gradient[0][0]} to ${colour.gradient[1][0]} across the page`;
  if ('along' in colour) return `from ${colour.along[0]} to ${colour.along[1]} along each`;
  const [hue, saturation, lightness] = colour.hsl;
  return `hue ${Math.round(hue)}°, saturation ${percent(saturation)}, lightness ${percent(lightness)}`;
}

/** What a rule's lines take, in other scenes too: "black; in Dusk #304050". */
export function coloursInWords(
  { lines, colour, inScene }: Pick<HoldRule, 'lines' | 'colour' | 'inScene'>,
  cast: CastSheet | null,
): string {
  const further = Object.entries(inScene ?? {}).flatMap(([id, one]) => {
    const scene = cast?.scenes.find((known) => known.id === id);
    return scene === undefined ? [] : `in ${scene.name} ${colourInWords(one, lines, cast)}`;
  });
  return [colourInWords(colour, lines, cast), ...further].join('; ');
}

/** "Inner lines of Coat: 35 % darker than Coat". */
export function ruleInWords(rule: Pick<HoldRule, 'lines' | 'colour' | 'inScene'>, cast: CastSheet | null): string {
  return `${linesInWords(rule.lines, cast)}: ${coloursInWords(rule, cast)}`;
}
