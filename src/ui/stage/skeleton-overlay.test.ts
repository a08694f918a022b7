import { describe, expect, it } from 'vitest';
import { NOTHING_DRAWN, type OverlayState, type OverlayTheme, type StageBone } from './overlay-types';
import { pickBone, pickTied } from './pick';
import { PlaceSet } from './place-set';
import { drawPlanned, drawSkeleton } from './skeleton-overlay';
import { planSkeleton } from './skeleton-plan';

const THEME: OverlayTheme = {
  left: 'violet',
  right: 'rust',
  centre: 'grey',
  ink: 'black',
  quiet: 'pale',
  ground: 'paper',
  accent: 'bold',
  alarm: 'plum',
};

/** A canvas that notes what is drawn on it: one entry per stroke, fill or text, with the look it has then. */
class NotedCanvas {
  readonly notes: { what: string; colour: string; alpha: number; width: number; lines: number; rings: number }[] = [];
  strokeStyle = '';
  fillStyle = '';
  globalAlpha = 1;
  lineWidth = 1;
  lineCap = '';
  font = '';
  textBaseline = '';
  private lines = 0;
  private rings = 0;
  beginPath() {
    this.lines = 0;
    this.rings = 0;
  }
  moveTo() {}
  lineTo() {
    this.lines++;
  }
  arc() {
    this.rings++;
  }
  stroke() {
    this.note('stroke', this.strokeStyle);
  }
  fill() {
    this.note('fill', this.fillStyle);
  }
  fillRect() {}
  fillText(text: string) {
    this.note(text, this.fillStyle);
  }
  measureText(text: string) {
    return { width: text.length * 3 };
  }
  save() {}
  restore() {}
  setLineDash() {}
  private note(what: string, colour: string) {
    this.notes.push({
      what,
      colour,
      alpha: this.globalAlpha,
      width: this.lineWidth,
      lines: this.lines,
      rings: this.rings,
    });
  }
}

/** A spine of three, an arm on either side, and a strand of spares below the last. Places are pixels already. */
type Placed = StageBone & { readonly position: readonly [number, number, number] };

function figure(spares = 0): Placed[] {
  const bones: Placed[] = [
    { index: 0, name: 'hips', parent: -1, side: 'centre', position: [100, 200, 0] },
    { index: 1, name: 'chest', parent: 0, side: 'centre', position: [100, 150, 0] },
    { index: 2, name: 'arm_l', parent: 1, side: 'left', position: [140, 150, 0] },
    { index: 3, name: 'arm_r', parent: 1, side: 'right', position: [60, 150, 0] },
  ];
  for (let at = 0; at < spares; at++)
    bones.push({
      index: bones.length,
      name: `strand${at}`,
      parent: bones.length - 1,
      side: 'spare',
      position: [60, 160 + at * 20, 0],
    });
  return bones;
}

const stateOf = ({
  bones = figure(),
  ...change
}: Partial<Omit<OverlayState, 'bones'>> & { bones?: Placed[] } = {}): OverlayState => ({
  ...NOTHING_DRAWN,
  bones,
  points: Float64Array.from(bones.flatMap(({ position }) => position)),
  ...change,
});

const flat = (x: number, y: number, _z: number, out: Float32Array | number[], at: number) => {
  [out[at], out[at + 1]] = [x, y];
};

function placesOf({ points, isolated }: OverlayState): PlaceSet {
  const places = new PlaceSet();
  places.fill(points, flat, isolated);
  return places;
}

const pixelsOf = (places: PlaceSet) =>
  Array.from({ length: places.count }, (_, at) => (places.has(at) ? [places.x(at), places.y(at)] : null));

function draw(state: OverlayState) {
  const canvas = new NotedCanvas();
  const places = placesOf(state);
  drawSkeleton(canvas as unknown as CanvasRenderingContext2D, state, planSkeleton(state, THEME), places, THEME);
  return { notes: canvas.notes, places: pixelsOf(places) };
}

describe('the skeleton on the stage', () => {
  it('draws each rod once, in the colour of its side, and a ring for each joint', () => {
    const { notes, places } = draw(stateOf());
    const rods = notes.filter(({ what, width }) => what === 'stroke' && width === 2);
    expect(Object.fromEntries(rods.map(({ colour, lines }) => [colour, lines]))).toEqual({
      grey: 1,
      violet: 1,
      rust: 1,
    });
    expect(notes.filter(({ what }) => what === 'fill').reduce((sum, { rings }) => sum + rings, 0)).toBe(4);
    expect(places).toEqual([
      [100, 200],
      [100, 150],
      [140, 150],
      [60, 150],
    ]);
  });

  it('takes no more strokes for two thousand spare bones than for two', () => {
    const [few, many] = [draw(stateOf({ bones: figure(2) })), draw(stateOf({ bones: figure(2000) }))];
    expect(many.notes.length).toBe(few.notes.length);
    expect(many.notes.reduce((sum, { what, rings }) => sum + (what === 'fill' ? rings : 0), 0)).toBe(2004);
  });

  it('marks what is picked along like what is selected', () => {
    const { notes } = draw(stateOf({ selected: 2, alsoPicked: new Set([3]) }));
    expect(
      notes
        .filter(({ what, colour }) => what === 'fill' && colour === 'bold')
        .reduce((sum, { rings }) => sum + rings, 0),
    ).toBe(2);
  });

  it('puts spares below the body and what is selected on top, marked and named', () => {
    const { notes } = draw(stateOf({ bones: figure(3), selected: 2, hovered: 3 }));
    const fills = notes.filter(({ what }) => what === 'fill');
    expect(fills[0].rings).toBe(3);
    expect(fills.some(({ colour }) => colour === 'bold')).toBe(true);
    expect(
      fills
        .slice(-2)
        .map(({ colour }) => colour)
        .sort(),
    ).toEqual(['bold', 'paper']);
    expect(notes.filter(({ what }) => what.includes('arm')).map(({ what, colour }) => [what, colour])).toEqual([
      ['arm_l  L', 'violet'],
      ['arm_r  R', 'rust'],
    ]);
    expect(notes.filter(({ width, what }) => what === 'stroke' && width === 5)).toHaveLength(0);
    expect(
      draw(stateOf({ selected: 1 }))
        .notes.filter(({ width, what }) => what === 'stroke' && width === 5)
        .reduce((sum, { lines }) => sum + lines, 0),
    ).toBe(2);
  });

  it('shows what a finding points at in the colour of alarm', () => {
    const { notes } = draw(stateOf({ highlighted: new Set([2]) }));
    expect(notes.filter(({ colour, what }) => what === 'stroke' && colour === 'plum').length).toBeGreaterThan(1);
    expect(notes.some(({ colour }) => colour === 'violet')).toBe(false);
  });

  it('leaves out what is not isolated, and rods that lead to it', () => {
    const { notes, places } = draw(stateOf({ isolated: new Set([1, 2]) }));
    expect(places).toEqual([null, [100, 150], [140, 150], null]);
    expect(
      notes
        .filter(({ what, width, lines }) => what === 'stroke' && width === 2 && lines > 0)
        .map(({ colour }) => colour),
    ).toEqual(['violet']);
  });

  it('names all mapped joints where labels are asked for, but none over another', () => {
    const close = figure().map((bone) => (bone.index === 3 ? { ...bone, position: [141, 151, 0] as const } : bone));
    expect(
      draw(stateOf({ hasLabels: true }))
        .notes.filter(({ colour }) => colour === 'black')
        .map(({ what }) => what),
    ).toEqual(['chest', 'arm_l', 'arm_r', 'hips']);
    expect(
      draw(stateOf({ bones: close, hasLabels: true }))
        .notes.filter(({ colour }) => colour === 'black')
        .map(({ what }) => what),
    ).toEqual(['chest', 'arm_l', 'hips']);
  });
});

it('a change of the tree shows its new rods, its new joints and what will go', () => {
  const [hips, chest, arm] = figure().map(({ position }) => position);
  const canvas = new NotedCanvas();
  drawPlanned(
    canvas as unknown as CanvasRenderingContext2D,
    {
      rods: [
        [hips, arm],
        [hips, chest],
      ],
      joints: [[120, 150, 0]],
      gone: [chest],
    },
    1,
    ([x, y]) => [x, y],
    THEME,
  );
  expect(canvas.notes.map(({ what, colour, lines }) => ({ what, colour, lines }))).toEqual([
    { what: 'stroke', colour: 'bold', lines: 2 },
    { what: 'fill', colour: 'bold', lines: 4 },
    { what: 'stroke', colour: 'plum', lines: 2 },
  ]);
});

describe('picking', () => {
  const state = stateOf({ bones: figure(1) });
  const places = placesOf(state);

  it('takes the nearest joint within reach, a mapped one before a spare as near', () => {
    expect(pickBone(state.bones, places, 138, 153)).toBe(2);
    expect(pickBone(state.bones, places, 60, 155)).toBe(3);
    expect(pickBone(state.bones, places, 60, 159)).toBe(4);
  });

  it('takes the upper joint of a rod that is hit between joints, and nothing far from all', () => {
    expect(pickBone(state.bones, places, 103, 175)).toBe(0);
    expect(pickBone(state.bones, places, 120, 153)).toBe(1);
    expect(pickBone(state.bones, places, 300, 300)).toBeNull();
  });

  it('lists the joints that a click cannot tell apart, nearest first', () => {
    const near = new PlaceSet();
    near.fill(Float64Array.from([10, 10, 0, 11, 10, 0, 40, 10, 0, 10, 11, 0]), flat, new Set([0, 1, 2]));
    expect(pickTied(near, 10, 11)).toEqual([0, 1]);
    expect(pickTied(near, 60, 60)).toEqual([]);
    near.fill(Float64Array.from([10, 10, 0, 16, 10, 0]), flat, null);
    expect(pickTied(near, 12, 10)).toEqual([0]);
  });
});
