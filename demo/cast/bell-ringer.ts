import { add, type Vec3 } from '@/core/math/vec3';
import { SIDES } from '@/core/definition/definition';
import { bell } from '../figure/dress';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const NAMES: Record<string, string> = {
  hips: 'Becken',
  spine: 'Wirbel unten',
  chest: 'Wirbel mitte',
  upperChest: 'Brustkorb',
  neck: 'Hals',
  head: 'Kopf',
  Shoulder: 'Schulter',
  UpperArm: 'Oberarm',
  LowerArm: 'Unterarm',
  Hand: 'Hand',
  UpperLeg: 'Oberschenkel',
  LowerLeg: 'Unterschenkel',
  Foot: 'Fuss',
  Toes: 'Zehen',
  Thumb: 'Daumen',
  Index: 'Zeigefinger',
  Middle: 'Mittelfinger',
  Ring: 'Ringfinger',
  Little: 'Kleinfinger',
};

function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return NAMES[role];
  const side = sided[1] === 'left' ? 'links' : 'rechts';
  const digit = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/.exec(sided[2]);
  if (digit) {
    const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
    return `${NAMES[digit[1]]} ${order.indexOf(digit[2]) + 1} ${side}`;
  }
  return `${NAMES[sided[2]]} ${side}`;
}

/** The bone that carries the lantern, and what of the figure is the lantern. */
export const LANTERN = { name: 'Laterne', materials: ['brass', 'light'], bone: 'Hand rechts' };

/** German names with blanks, helpers at elbows and knees, eyes, a jaw, and a lantern held in the right hand (Copper Wake). */
export function bellRinger(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 0.98,
    breadth: 0.94,
    armsDownDegrees: 58,
    elbowDegrees: 16,
    feetOutDegrees: 9,
    girth: 0.96,
    nameOf,
    rootName: 'Wurzel',
    axes: 'bones',
  });
  const jaw: Vec3 = add(places.head, [0, 0.018, 0.048]);
  builder.add('Kiefer', name('head'), jaw, 'jaw');
  for (const side of SIDES) {
    const sign = side === 'left' ? 1 : -1;
    const word = side === 'left' ? 'links' : 'rechts';
    builder.add(`Auge ${word}`, name('head'), add(places.head, [sign * 0.032, 0.105, 0.088]), `${side}Eye`);
    builder.add(
      `Ellenbogen Helfer ${word}`,
      name(`${side}UpperArm`),
      add(places[`${side}LowerArm`], [0, 0, -0.014]),
      'helper',
    );
    builder.add(`Knie Helfer ${word}`, name(`${side}UpperLeg`), add(places[`${side}LowerLeg`], [0, 0, 0.02]), 'helper');
  }
  const hand = places.rightHand;
  const lantern: Vec3 = add(hand, [-0.02, -0.3, 0.03]);
  const lead = [{ bone: name('rightHand'), weight: 1 }];
  const headLead = [{ bone: name('head'), weight: 1 }];
  const centre = add(places.head, [0, 0.1, 0.01]);
  return {
    name: 'Bell ringer',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.8, 0.62, 0.52] },
      habit: { colour: [0.34, 0.24, 0.3] },
      hose: { colour: [0.25, 0.22, 0.25] },
      shoes: { colour: [0.2, 0.14, 0.1] },
      hood: { colour: [0.42, 0.3, 0.36] },
      eyes: { colour: [0.9, 0.9, 0.86] },
      brass: { colour: [0.72, 0.53, 0.2], roughness: 0.4 },
      light: { colour: [1, 0.86, 0.45] },
    },
    parts: [
      ...plainClothes(body, { skin: 'skin', top: 'habit', legs: 'hose', shoes: 'shoes' }),
      bell(body, 'habit', add(places.hips, [0, 0.06, 0]), [0, 0.2, -0.01], [0.15, 0.25], (point, share) => {
        const side = point[0] >= 0 ? 'left' : 'right';
        const leg = Math.min(1, share * 1.1) * 0.8 * Math.min(1, Math.abs(point[0]) / 0.1);
        const shin = share > 0.6 ? leg * (share - 0.6) : 0;
        return [
          { bone: name('hips'), weight: 1 - leg },
          { bone: name(`${side}UpperLeg`), weight: leg - shin },
          { bone: name(`${side}LowerLeg`), weight: shin },
        ].filter((entry) => entry.weight > 0);
      }),
      ellipsoid('hood', add(centre, [0, 0.015, -0.03]), [0.1, 0.135, 0.105], headLead, ([x, y, z]) => [
        x,
        y,
        Math.min(z, 0.42),
      ]),
      ellipsoid(
        'hood',
        add(places.neck, [0, 0, -0.015]),
        [0.11, 0.06, 0.1],
        [
          { bone: name('upperChest'), weight: 0.7 },
          { bone: name('neck'), weight: 0.3 },
        ],
      ),
      ...SIDES.map((side) =>
        ellipsoid(
          'eyes',
          add(places.head, [side === 'left' ? 0.032 : -0.032, 0.105, 0.096]),
          [0.013, 0.013, 0.013],
          [{ bone: `Auge ${side === 'left' ? 'links' : 'rechts'}`, weight: 1 }],
        ),
      ),
      ellipsoid(
        'skin',
        add(jaw, [0, -0.004, 0.018]),
        [0.036, 0.02, 0.03],
        [
          { bone: 'Kiefer', weight: 0.75 },
          { bone: name('head'), weight: 0.25 },
        ],
      ),
      ...SIDES.flatMap((side) => {
        const word = side === 'left' ? 'links' : 'rechts';
        return [
          ellipsoid(
            'habit',
            places[`${side}LowerArm`],
            [0.045, 0.045, 0.045],
            [
              { bone: `Ellenbogen Helfer ${word}`, weight: 0.6 },
              { bone: name(`${side}LowerArm`), weight: 0.4 },
            ],
          ),
          ellipsoid(
            'hose',
            add(places[`${side}LowerLeg`], [0, 0, 0.01]),
            [0.052, 0.06, 0.052],
            [
              { bone: `Knie Helfer ${word}`, weight: 0.6 },
              { bone: name(`${side}LowerLeg`), weight: 0.4 },
            ],
          ),
        ];
      }),
      tube({
        material: 'brass',
        path: [add(hand, [-0.02, -0.06, 0.02]), add(lantern, [0, 0.13, 0])],
        radii: [
          [0.006, 0.006],
          [0.006, 0.006],
        ],
        leads: [{ bone: name('rightHand'), at: 0 }],
        blend: 0.1,
        sides: 8,
        rings: 4,
      }),
      tube({
        material: 'brass',
        path: [add(lantern, [0, 0.13, 0]), add(lantern, [0, 0.09, 0]), add(lantern, [0, 0.08, 0])],
        radii: [
          [0.012, 0.012],
          [0.055, 0.055],
          [0.06, 0.06],
        ],
        leads: [{ bone: name('rightHand'), at: 0 }],
        blend: 0.1,
        sides: 12,
        rings: 6,
      }),
      ellipsoid('light', lantern, [0.045, 0.075, 0.045], lead),
      ellipsoid('brass', add(lantern, [0, -0.08, 0]), [0.06, 0.014, 0.06], lead),
    ],
    clips: [
      {
        name: 'Raise the lantern',
        seconds: 1.8,
        swings: [
          { joint: name('rightUpperArm'), axis: [1, 0, 0], degrees: -45 },
          { joint: name('rightLowerArm'), axis: [1, 0, 0], degrees: -30 },
          { joint: name('head'), axis: [0, 1, 0], degrees: -18 },
        ],
      },
    ],
  };
}
