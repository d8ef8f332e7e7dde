import type { GroupKind } from '@jumble/core';

/** A part of the demo's cast, with its colours by day's end (in the tunnels' lamplight) and at night. */
export interface DemoPart {
  readonly id: string;
  readonly name: string;
  readonly slot: string | null;
  readonly lamplight: string;
  readonly night: string;
  readonly empty?: true;
  /** Id of the part it is a marking on. */
  readonly on?: string;
}

export interface DemoGroup {
  readonly id: string;
  readonly name: string;
  readonly kind: GroupKind;
  readonly parts: readonly DemoPart[];
}

const part = (id: string, name: string, slot: string | null, lamplight: string, night: string): DemoPart => ({
  id,
  name,
  slot,
  lamplight,
  night,
});

/** Everybody and everything in *The Understory Line*; the topmost of the stack first. */
export const DEMO_CAST: readonly DemoGroup[] = [
  {
    id: 'lettering',
    name: 'Lettering',
    kind: 'prop',
    parts: [
      { id: 'blank', name: 'Leave empty', slot: '0', lamplight: '#ffffff', night: '#ffffff', empty: true },
      part('caption', 'Captions', '9', '#f2daa7', '#c9d3dd'),
      part('sound', 'Sounds', null, '#e9a23b', '#b9822f'),
    ],
  },
  {
    id: 'wren',
    name: 'Wren, the conductor',
    kind: 'character',
    parts: [
      part('wren-skin', 'Skin', '1', '#c98f66', '#7f6a72'),
      part('wren-coat', 'Coat', '2', '#3f6f6b', '#28484f'),
      part('wren-lining', 'Lining', '3', '#bc4942', '#74343c'),
      part('wren-scarf', 'Scarf', '4', '#e5b34c', '#9c8148'),
      { ...part('wren-stripe', 'Scarf stripes', 'a', '#f4d7b7', '#a9a48f'), on: 'wren-scarf' },
      part('wren-cap', 'Cap', '5', '#2f4f57', '#1f3540'),
      { ...part('wren-band', 'Cap band', 'b', '#a33a3a', '#6b2c36'), on: 'wren-cap' },
      part('wren-brass', 'Brass', '6', '#ce9b37', '#97783f'),
      part('wren-glass', 'Spectacles', 'c', '#dcecea', '#9fb4bb'),
      part('wren-hair', 'Hair', 'd', '#4a2f2a', '#2f2428'),
      part('wren-trousers', 'Trousers', 'f', '#535140', '#37363a'),
    ],
  },
  {
    id: 'ilo',
    name: 'Ilo, the moth child',
    kind: 'character',
    parts: [
      part('ilo-fur', 'Fur', 'g', '#e7d9c9', '#9c98a0'),
      part('ilo-wing', 'Wings', '7', '#b98ea7', '#766179'),
      part('ilo-spot', 'Wing spots', 'h', '#5b3f63', '#3d2f49'),
      part('ilo-ring', 'Spot rings', 'i', '#efc783', '#a68f6d'),
      part('ilo-eye', 'Eyes', 'j', '#faf9e1', '#b4b8b0'),
      part('ilo-dress', 'Smock', 'k', '#899b64', '#54684b'),
    ],
  },
  {
    id: 'mumble',
    name: 'Mumble, the digger',
    kind: 'character',
    parts: [
      part('mumble-fur', 'Fur', '8', '#6d5a66', '#453d4c'),
      part('mumble-belly', 'Belly', 'l', '#9c8a8c', '#655d66'),
      part('mumble-nose', 'Nose', 'm', '#d98f8f', '#91666d'),
      part('mumble-claw', 'Claws', 'n', '#dddcca', '#a59f95'),
    ],
  },
  {
    id: 'tram',
    name: 'The night tram',
    kind: 'prop',
    parts: [
      part('tram-body', 'Body', 'o', '#a8452f', '#6d3432'),
      part('tram-trim', 'Trim', 'p', '#d4c28d', '#9b9078'),
      part('tram-window', 'Windows', 'r', '#f2dd8a', '#c3b56f'),
      part('tram-roof', 'Roof', 's', '#5a6a63', '#3b4a4c'),
      part('tram-iron', 'Iron', 't', '#6c7276', '#474f57'),
      part('tram-seat', 'Seats', 'u', '#7d5a3a', '#4f3f38'),
      part('lamp', 'Lamps', 'v', '#fff3b8', '#e8d995'),
    ],
  },
  {
    id: 'forest',
    name: 'Understory',
    kind: 'set',
    parts: [
      part('root', 'Roots', 'x', '#8a6b4a', '#54474a'),
      part('root-far', 'Roots, far', 'y', '#6f6758', '#434650'),
      part('earth', 'Earth', 'z', '#5d503e', '#37353c'),
      part('depth', 'Depth', null, '#39423f', '#20262f'),
      part('fern', 'Ferns', null, '#6c934f', '#3f5c4a'),
      part('moss', 'Moss', null, '#95aa59', '#56694d'),
      part('mushroom', 'Mushrooms', null, '#d8654a', '#8a4747'),
      { ...part('mushroom-dot', 'Mushroom dots', null, '#f9eacb', '#b0a79c'), on: 'mushroom' },
      part('stalk', 'Stalks', null, '#dbceaf', '#9a948b'),
      part('stone', 'Stone', null, '#a39f92', '#686b70'),
      part('stone-dark', 'Stone, dark', null, '#827e74', '#52555c'),
      part('wood', 'Wood', null, '#9f7a4f', '#66543f'),
      part('sign', 'Signs', null, '#e5e3bd', '#a39e8c'),
      part('rail', 'Rails', null, '#8d9396', '#5d666e'),
    ],
  },
];

/** All parts in their order; a part's number in the truth picture is its place here. */
export const DEMO_PARTS: readonly DemoPart[] = DEMO_CAST.flatMap((group) => group.parts);
