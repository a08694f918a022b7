import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { GAIT_SLIDERS } from '@/core/house/gait-settings';
import { HOUSE_SET } from '@/core/house/house-set';
import { LEG } from '@/core/house/house-body';
import { JOINT_RANGES } from '@/core/house/joint-ranges';
import { jumpRatio, measureHouse } from '@/core/house/measure-house';

/**
 * `npx tsx bench/motion/house.ts [--write]`: measures every motion of the house set on the figure that it is made for.
 * --write puts it into docs/house-set-report.md.
 */
const { values } = parseArgs({ options: { write: { type: 'boolean', default: false } } });

const millimetres = (metres: number): string => (Math.round(metres * 10000) / 10 + 0).toFixed(1);
const rows = HOUSE_SET.map(({ label, make, settings }) => {
  const house = make(settings);
  const measures = measureHouse(house);
  const { loop } = measures;
  return [
    label,
    house.seconds.toFixed(2),
    millimetres(measures.slideMetres),
    millimetres(Math.min(0, measures.lowestSoleMetres)),
    (measures.stretch * 100).toFixed(1),
    measures.leastKneeDegrees.toFixed(1),
    measures.leastElbowDegrees.toFixed(1),
    loop ? `${millimetres(loop.metres)} / ${loop.degrees.toFixed(3)}` : '',
    loop ? `${millimetres(loop.metresPerSecond)} / ${loop.degreesPerSecond.toFixed(2)}` : '',
    jumpRatio(house).toFixed(3),
    house.contacts.length > 2 && !house.name.includes('Jump')
      ? `${millimetres(measures.balanceAsideMetres)} / ${millimetres(measures.balanceMiddleMetres)}`
      : '',
  ];
});
const table = (head: readonly string[], body: readonly (readonly string[])[]): string =>
  [head, head.map(() => '---'), ...body].map((cells) => `| ${cells.join(' | ')} |`).join('\n');

const text = `# The house set, measured

Made by \`npx tsx bench/motion/house.ts --write\`. Each motion is sampled at 60 frames a second as it is carried, and played
back by its turns alone on the figure that it is made for: 1.75 m, leg ${LEG.toFixed(2)} m.

- slide: furthest that the bearing point of a foot moves over one contact, all of it together
- below floor: lowest place of a sole
- stretch: most that a leg is asked to reach, of its length
- knee, elbow: least bend; below 0 it would fold the wrong way
- end to start: joints and turns where the clip goes over into itself, and their speeds (taken over 0.1 ms)
- steps of speed: largest change of speed between two moments, four times as dense over as dense: 0.25 where speeds are
  continuous, 1 where one jumps
- balance: centre of mass off the sole that bears alone, to the side / in the middle of the step; a run and a side step fall
  from foot to foot, as bodies do

${table(
  [
    'motion',
    's',
    'slide mm',
    'below floor mm',
    'stretch %',
    'knee °',
    'elbow °',
    'end to start mm / °',
    'speeds mm/s / °/s',
    'steps of speed',
    'balance mm',
  ],
  rows,
)}

## Ranges

The ends of the joint ranges that the first four go to, degrees: American Academy of Orthopaedic Surgeons, Joint Motion:
Method of Measuring and Recording, 1965.

${table(
  ['joint', 'ends'],
  Object.entries(JOINT_RANGES).map(([joint, ends]) => [
    joint,
    Object.entries(ends)
      .map(([end, degrees]) => `${end} ${String(degrees)}`)
      .join(', '),
  ]),
)}

## Settings of walk and run

${table(
  ['setting', 'from', 'to', 'unit'],
  GAIT_SLIDERS.map(({ label, min, max, unit }) => [label, String(min), String(max), unit]),
)}
`;
process.stdout.write(text);
if (values.write) writeFileSync('docs/house-set-report.md', text);
