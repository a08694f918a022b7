import { ARM_PARTS, DIGITS, LEG_PARTS, SIDES, digitRoles } from '@/core/definition/definition';
import { add, subtract, scale, type Vec3 } from '@/core/math/vec3';
import { ellipsoid, tube, type PartMesh } from '../figure/mesh';
import { between } from '../figure/skeleton';
import { plainClothes, townsfolk, type Townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const PARTS: Record<string, string> = {
  hips: 'Girdle',
  spine: 'Back1',
  chest: 'Back2',
  upperChest: 'Back3',
  neck: 'Nape',
  head: 'Head',
  Shoulder: 'Yoke',
  UpperArm: 'UpperArm',
  LowerArm: 'Forearm',
  Hand: 'Hand',
  UpperLeg: 'Thigh',
  LowerLeg: 'Calf',
  Foot: 'Foot',
  Toes: 'Toes',
};
const DIGIT = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/;

function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return `hm ${PARTS[role]}`;
  const mark = sided[1] === 'left' ? 'Lt' : 'Rt';
  const digit = DIGIT.exec(sided[2]);
  if (!digit) return `hm ${mark} ${PARTS[sided[2]]}`;
  const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
  return `hm ${mark} ${digit[1]}${order.indexOf(digit[2]) + 1}`;
}

interface Strand {
  readonly name: string;
  readonly holder: string;
  readonly truth: string;
  readonly material: string;
  readonly from: Vec3;
  readonly to: Vec3;
  readonly bones: number;
  readonly width: number;
}

/** Bones along a strand and the cloth that they carry. */
function addStrand(
  { builder, name }: Townsfolk,
  { name: title, holder, truth, material, from, to, bones, width }: Strand,
): PartMesh {
  const names: string[] = [];
  for (let at = 0; at < bones; at++)
    names.push(
      builder.add(`hm ${title}${at + 1}`, names[at - 1] ?? name(holder), between(from, to, at / bones), truth),
    );
  return tube({
    material,
    path: [from, between(from, to, 0.5), to],
    radii: [
      [width, width * 0.3],
      [width * 1.15, width * 0.3],
      [width * 0.8, width * 0.3],
    ],
    leads: names.map((bone, at) => ({ bone, at: at / bones })),
    blend: 0.8 / bones,
    sides: 12,
    rings: 4 * bones,
  });
}

/** Two bones along each segment of a limb, end bones without skin, targets at hands, feet, elbows and knees. */
function addHelpers({ builder, name, places }: Townsfolk): void {
  for (const side of SIDES) {
    const mark = side === 'left' ? 'Lt' : 'Rt';
    for (const [part, next] of [
      ['UpperArm', 'LowerArm'],
      ['LowerArm', 'Hand'],
      ['UpperLeg', 'LowerLeg'],
      ['LowerLeg', 'Foot'],
    ] as const) {
      for (const at of [1, 2])
        builder.add(
          `hm ${mark} ${PARTS[part]}Roll${at}`,
          name(side + part),
          between(places[side + part], places[side + next], at / 3),
          'twist',
        );
    }
    const beyond = (title: string, last: string, before: string) =>
      builder.add(
        `hm ${mark} ${title}End`,
        name(last),
        add(places[last], scale(subtract(places[last], places[before]), 0.8)),
        'tip',
      );
    for (const digit of DIGITS) beyond(digit, ...(digitRoles(side, digit).slice(-2).reverse() as [string, string]));
    beyond('Toes', `${side}${LEG_PARTS[3]}`, `${side}${LEG_PARTS[2]}`);
    builder.add(`hm ${mark} HandTarget`, 'hm Floor', places[`${side}${ARM_PARTS[3]}`], 'control');
    builder.add(`hm ${mark} FootTarget`, 'hm Floor', places[`${side}Foot`], 'control');
    builder.add(`hm ${mark} ElbowTarget`, 'hm Floor', add(places[`${side}LowerArm`], [0, 0, -0.4]), 'control');
    builder.add(`hm ${mark} KneeTarget`, 'hm Floor', add(places[`${side}LowerLeg`], [0, 0, 0.5]), 'control');
  }
  builder.add('hm HeadEnd', name('head'), add(places.head, [0, 0.22, 0]), 'tip');
}

const COAT_TAILS = 8;

/** 150 bones: everything that a costume and its helpers put on one figure. The yardstick of the matcher's speed; no part of the demo. */
export function harbourMaster(): Figure {
  const folk = townsfolk({
    size: 1.03,
    breadth: 1.1,
    armsDownDegrees: 28,
    elbowDegrees: 6,
    girth: 1.15,
    nameOf,
    rootName: 'hm Floor',
    axes: 'bones',
  });
  const { places, body, name } = folk;
  addHelpers(folk);
  const strands: PartMesh[] = [];
  for (let tail = 0; tail < COAT_TAILS; tail++) {
    const angle = ((tail + 0.5) / COAT_TAILS) * 2 * Math.PI;
    const out: Vec3 = [Math.sin(angle), 0, Math.cos(angle)];
    const from = add(places.hips, add(scale(out, 0.16), [0, 0.02, 0]));
    strands.push(
      addStrand(folk, {
        name: `CoatTail${String.fromCharCode(65 + tail)}`,
        holder: 'hips',
        truth: 'dangling',
        material: 'coat',
        from,
        to: add(from, add(scale(out, 0.14), [0, -0.62, 0])),
        bones: 5,
        width: 0.07,
      }),
    );
  }
  const chin = add(places.head, [0, -0.01, 0.09]);
  strands.push(
    addStrand(folk, {
      name: 'Beard',
      holder: 'head',
      truth: 'dangling',
      material: 'beard',
      from: chin,
      to: add(chin, [0, -0.3, 0.06]),
      bones: 3,
      width: 0.045,
    }),
  );
  const collar = add(places.neck, [0, -0.06, 0.11]);
  strands.push(
    addStrand(folk, {
      name: 'OfficeChain',
      holder: 'upperChest',
      truth: 'prop',
      material: 'brass',
      from: collar,
      to: add(collar, [0, -0.3, 0.04]),
      bones: 5,
      width: 0.02,
    }),
  );
  const crown = add(places.head, [0, 0.2, 0]);
  strands.push(
    addStrand(folk, {
      name: 'Plume',
      holder: 'head',
      truth: 'dangling',
      material: 'plume',
      from: crown,
      to: add(crown, [0, 0.12, -0.22]),
      bones: 3,
      width: 0.03,
    }),
  );
  for (const side of SIDES) {
    const wrist = add(places[`${side}Hand`], [0, -0.03, 0]);
    strands.push(
      addStrand(folk, {
        name: `${side === 'left' ? 'Lt' : 'Rt'} Cuff`,
        holder: `${side}LowerArm`,
        truth: 'dangling',
        material: 'coat',
        from: wrist,
        to: add(wrist, [0, -0.2, -0.02]),
        bones: 4,
        width: 0.05,
      }),
    );
  }
  const lamp = add(places.hips, [0.2, -0.1, 0.06]);
  const ring = folk.builder.add('hm BeltLamp', name('hips'), lamp, 'prop');
  return {
    name: 'Harbour master',
    joints: folk.builder.joints,
    materials: {
      skin: { colour: [0.6, 0.42, 0.33] },
      coat: { colour: [0.12, 0.19, 0.3] },
      breeches: { colour: [0.5, 0.46, 0.38] },
      boots: { colour: [0.1, 0.09, 0.09] },
      beard: { colour: [0.78, 0.76, 0.72] },
      brass: { colour: [0.74, 0.56, 0.22], roughness: 0.4 },
      plume: { colour: [0.7, 0.2, 0.16] },
    },
    parts: [
      ...plainClothes(body, { skin: 'skin', top: 'coat', legs: 'breeches', shoes: 'boots' }),
      ...strands,
      ellipsoid('coat', crown, [0.12, 0.05, 0.13], [{ bone: name('head'), weight: 1 }]),
      ellipsoid('brass', lamp, [0.045, 0.07, 0.045], [{ bone: ring, weight: 1 }]),
    ],
    clips: [
      {
        name: 'Bow',
        seconds: 1.5,
        swings: [
          { joint: name('spine'), axis: [1, 0, 0], degrees: 30 },
          { joint: name('head'), axis: [1, 0, 0], degrees: 15 },
        ],
      },
    ],
  };
}
