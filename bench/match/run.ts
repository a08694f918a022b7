import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { spawnSync } from 'node:child_process';
import { PARTS, runBench, runRebuilt, type Part } from './bench';
import { runCreatures } from './creatures';
import { dialectWithoutDemo } from './demo-words';
import { runEveryday } from './everyday';
import { runGrowth } from './growth';
import { runMotion } from './motion';
import { runOtherHands } from './other-hands';
import { curveOf, drawReliability, recordTallies } from './reliability';
import type { Tally } from './tally';
import { measureYardstick } from './yardstick';

/**
 * Measures the matcher: `npx tsx bench/match/run.ts [PER_CELL] [--parts tuning,held] [--show TEXT] [--write]`.
 * --show prints mistakes of groups whose name holds TEXT; --write puts the tables into docs/match-report.md.
 */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    parts: { type: 'string', default: PARTS.join() },
    show: { type: 'string' },
    write: { type: 'boolean', default: false },
  },
});
const perCell = Number(positionals[0] ?? 20);
const parts = values.parts.split(',').filter((part): part is Part => (PARTS as readonly string[]).includes(part));

const COLUMNS = [
  'group',
  'rigs',
  'right %',
  '95 % low',
  'vacant %',
  'right but doubtful %',
  'wrong but doubtful %',
  'wrong and sure %',
  'swaps',
  'extra',
  'Brier',
  'calibration error %',
  'Brier below 0.9',
  'calibration error below 0.9 %',
  'kind right %',
  'spares right %',
  'ms',
];
const percent = (share: number): string => (share * 100).toFixed(2);

/** Lower end of the 95 % interval of a share. Source: Wilson 1927. */
function wilsonLow(share: number, count: number): number {
  const z = 1.96;
  const centre = share + (z * z) / (2 * count);
  return (
    (centre - z * Math.sqrt((share * (1 - share)) / count + (z * z) / (4 * count * count))) / (1 + (z * z) / count)
  );
}

function row(name: string, tally: Tally): string[] {
  const n = Math.max(1, tally.truthRoles);
  return [
    name,
    String(tally.rigs),
    percent(tally.right / n),
    percent(wilsonLow(Math.min(1, tally.right / n), n)),
    percent(tally.vacant / n),
    percent(tally.rightDoubtful / Math.max(1, tally.right)),
    percent(tally.wrongDoubtful / n),
    percent(tally.wrongSure / n),
    String(tally.swaps),
    String(tally.extra),
    (tally.brier / Math.max(1, tally.answers)).toFixed(4),
    percent(tally.calibration()),
    (tally.unsureBrier / Math.max(1, tally.unsureAnswers)).toFixed(3),
    percent(tally.calibration(0.9)),
    percent(tally.kindRight / Math.max(1, tally.rigs)),
    percent(tally.sparesRight / Math.max(1, tally.spares)),
    (tally.ms / tally.rigs).toFixed(1),
  ];
}

const table = (groups: ReadonlyMap<string, Tally>): string =>
  [
    `| ${COLUMNS.join(' | ')} |`,
    `|${COLUMNS.map(() => '---').join('|')}|`,
    ...[...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([name, tally]) => `| ${row(name, tally).join(' | ')} |`),
  ].join('\n');

const groups = runBench({
  perCell,
  parts,
  onMistakes: (where, mistakes) => {
    if (values.show && where.includes(values.show))
      process.stdout.write(`${where}: ${mistakes.slice(0, 12).join(' | ')}\n`);
  },
});
const rebuilt = runRebuilt({
  perCell: Math.max(2, Math.round(perCell / 2)),
  parts,
  onMistakes: (where, mistakes) => {
    if (values.show && where.includes(values.show))
      process.stdout.write(`${where}: ${mistakes.slice(0, 12).join(' | ')}\n`);
  },
});
const sections = [
  '## By group',
  table(groups),
  '## Rebuilt as rigs by other hands are',
  'The same made rigs after a rebuild: trees in pieces, all bones on one root or on none, limbs of one bone, phalanges in halves, digits under a target, feet under the root, limbs that start in the middle. Three in five have bones along an axis of their own. A rig without a tree, without words and without such an axis has nothing but places; its answers are doubtful by rule.',
  table(rebuilt),
];

for (const [title, use] of [
  ['Names only', { tree: false, place: false }],
  ['Tree only', { names: false, place: false }],
  ['Place only', { names: false, tree: false }],
] as const) {
  if (!values.write) break;
  const ablated = runBench({ perCell: Math.max(2, Math.round(perCell / 8)), parts: ['held'], match: { use } });
  sections.push(
    `## Ablation: ${title.toLowerCase()}`,
    table(new Map([...ablated].filter(([name]) => !name.includes(',')))),
  );
}
if (values.write) {
  const reduced = runBench({
    perCell: Math.max(2, Math.round(perCell / 8)),
    parts: ['held'],
    match: { dialect: dialectWithoutDemo() },
  });
  sections.push(
    '## Without the words of the demo',
    'Every word that stands in a name of the demo cast is taken out of the dialect, whether or not it stands elsewhere too.',
    table(new Map([...reduced].filter(([name]) => name === 'held named'))),
  );
}
sections.push(
  '## Names by chance',
  'The same figures called after everyday words, a tenth of which mean something by chance, and with names that say nothing.',
  table(runEveryday(perCell)),
);
const creatures = [...runCreatures(perCell * 5)].map(
  ([kind, { rigs, refused, proposed }]) => `| ${kind} | ${rigs} | ${percent(refused / rigs)} | ${proposed} |`,
);
sections.push(
  '## What is no humanoid',
  ['| made | rigs | refused % | roles proposed all the same |', '|---|---|---|---|', ...creatures].join('\n'),
);
const others = (await runOtherHands()).map(
  (row) =>
    `| ${row.file} | ${row.pose} | ${row.isNamed ? 'its own' : 'none'} | ${row.humanoids} of ${row.rigs} | ${row.right} of ${row.roles} | ${percent(row.right / row.roles)} | ${row.rightDoubtful} | ${row.vacant} | ${row.wrongDoubtful} | ${row.wrongSure} | ${row.extra} |`,
);
if (others.length > 0) {
  sections.push(
    '## Third-party skeletons',
    `The two-legged ones of Debian's \`assimp-testmodels\` against truth written by hand (\`tests/third-party/bipeds.json\`), with their own names and with names that say nothing: at rest, and as they stand in the midst of their motions (a walk, a run, boxing) as if that were their rest pose. Bones that may serve as several roles, as a mitten's digits may, are left open. The \`.X\` file is made a GLB by \`assimp export\` first.`,
    [
      '| file | pose | names | recognised as humanoid | roles right | right % | of them doubtful | vacant | wrong but doubtful | wrong and sure | extra |',
      '|---|---|---|---|---|---|---|---|---|---|---|',
      ...others,
    ].join('\n'),
  );
}
const scored = spawnSync('node', ['../shared/rigs/score.mjs', '--project', '.', '--variants'], { encoding: 'utf8' });
if (scored.status === 0 && scored.stdout.includes('real'))
  sections.push(
    '## Skeletons by other hands, labelled by hand: the training part',
    'As `node ../shared/rigs/score.mjs --project . --variants` prints it: through the headless `inspect`, box bodies, own names (real), erased names (opaque), renamed and changed copies. Roles were tuned on these; the figures on the part kept back are not known here.',
    ['```', scored.stdout.trim(), '```'].join('\n'),
  );
const moved = (await runMotion()).map(
  (row) =>
    `| ${row.group} | ${row.rigs} | ${row.roles} | ${percent(row.without.right / row.roles)} | ${percent(row.with.right / row.roles)} | ${percent(row.without.wrongSure / row.roles)} | ${percent(row.with.wrongSure / row.roles)} |`,
);
if (moved.length > 0)
  sections.push(
    '## Motion as a witness',
    'Nameless rigs with a clip: the training part with a walk that its labels drive, and the two-legged BVH files of `assimp-testmodels` with their own motion; with their own trees and with none.',
    [
      '| rigs | count | roles | right without clips % | right with clips % | wrong and sure without % | wrong and sure with % |',
      '|---|---|---|---|---|---|---|',
      ...moved,
    ].join('\n'),
  );
const growth = runGrowth([75, 150, 300, 600, 1200, 2000]).map(
  ({ bones, ms, exponent }) => `| ${bones} | ${ms.toFixed(1)} | ${exponent === null ? '' : exponent.toFixed(2)} |`,
);
sections.push(
  '## Growth',
  'Median time of a warm match; the exponent between one size and the next is 1 where time grows as the number of bones does.',
  ['| bones | ms | exponent |', '|---|---|---|', ...growth].join('\n'),
);
const { file, bones, parse, bare, binary, match } = await measureYardstick();
sections.push(
  '## Against parsing',
  `Median warm times for the committed \`${file}\` (${bones} bones): a match takes ${match.toFixed(1)} ms, ${percent(match / parse)} % of reading the file to a rig (${parse.toFixed(0)} ms) and ${percent(match / bare)} % of bare parsing of its text by fbx-parser (${bare.toFixed(0)} ms). The same figure as the GLB that Yarvo keeps of it is read in ${binary.toFixed(0)} ms, of which a match takes ${percent(match / binary)} %.`,
);
process.stdout.write(`${sections.join('\n\n')}\n`);
if (values.write) {
  const records = recordTallies();
  await drawReliability(
    [
      ...[...groups].filter(([name]) => /^held (named|opaque)$/.test(name)),
      ...[...rebuilt]
        .filter(([name]) => /^held (named|opaque)$/.test(name))
        .map(([name, tally]) => [`${name}, rebuilt`, tally] as const),
      ...(records.named.rigs > 0
        ? [['training part, own names', records.named] as const, ['training part, erased', records.erased] as const]
        : []),
    ].map(([name, tally]) => curveOf(name, tally)),
    'docs/match-reliability.png',
  );
  const total = [...groups].filter(([name]) => !name.includes(',')).reduce((sum, [, tally]) => sum + tally.rigs, 0);
  writeFileSync(
    'docs/match-report.md',
    `# Matcher benchmarks

${total} seeded rigs, made by \`bench/match\` (\`npx tsx bench/match/run.ts ${perCell} --write\`). Topologies and naming habits of the
*held* part were written before tuning; of them only these totals were read and, twice, which rigs were refused as humanoids and why. \`bench/match/held-back.sha256\` holds the hashes of the files that define them. One held naming habit was replaced since, because it repeated one maker's names: the hash of that file was renewed with it.
The tuning topologies \`odd-runs\` and \`odd-ends\` came later, from oddities seen in practice; they hold some of the
same kinds as the held ones (longer runs, clavicles on the neck), so those are no longer foreign in kind, only in mixture.
Each line of a rig weighs alike, so that fingers do not drown the rest. Opaque: names that say nothing, or none. An answer for a role that a figure does not have (*extra*) counts as wrong in the calibration.

![Reliability: how often answers of each confidence are right](match-reliability.png)

The larger a point, the more answers it stands for.

${sections.join('\n\n')}
`,
  );
}
