import { damage, randomFrom } from './damage';
import { judge } from './judge';
import { makeSeeds } from './seeds';

/** `npx tsx tests/fuzz/run.ts [CASES] [FORMAT]`: damaged files of each format, 2,000 by default; exit code 1 on any complaint. */
/** A damaged file that takes longer is worth a look. */
const SLOWEST_MS = 10_000;
const cases = Number(process.argv[2] ?? 2000);
let failed = 0;
for (const [format, seed] of Object.entries(await makeSeeds())) {
  if (process.argv[3] && process.argv[3] !== format) continue;
  const codes = new Map<string, number>();
  const start = performance.now();
  for (let number = 0; number < cases; number++) {
    const { code, complaint } = await judge(seed.path, damage(seed, randomFrom(number)), SLOWEST_MS);
    codes.set(code, (codes.get(code) ?? 0) + 1);
    if (!complaint) continue;
    failed++;
    if (failed <= 20) process.stdout.write(`${format} case ${number}: ${complaint}\n`);
  }
  const told = [...codes]
    .sort((a, b) => b[1] - a[1])
    .map(([code, count]) => `${code} ${count}`)
    .join(', ');
  process.stdout.write(`${format}: ${cases} cases in ${Math.round((performance.now() - start) / 1000)} s: ${told}\n`);
}
process.exitCode = failed > 0 ? 1 : 0;
