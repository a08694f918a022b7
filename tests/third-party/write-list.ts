import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { listModels, MODELS, movingBones, ownBones, readModel } from './catalogue';

/**
 * Writes the list that the test holds the readers to, and the table in docs. Counts of another reader (Debian's assimp)
 * stand beside ours; look at every difference before committing.
 */
export interface Entry {
  readonly file: string;
  readonly sha256: string;
  readonly verdict: 'read' | 'refused';
  readonly code?: string;
  readonly kind?: string;
  readonly bones?: number;
  readonly moving?: number;
  readonly clips?: number;
  readonly vertices?: number;
  /** What the other reader counts; null where it cannot read the file. */
  readonly other?: { readonly moving: number; readonly clips: number } | null;
}

function otherCounts(file: string): Entry['other'] {
  try {
    const text = execFileSync('assimp', ['info', path.join(MODELS, file)], {
      stdio: ['ignore', 'pipe', 'ignore'],
      timeout: 20_000,
    }).toString();
    const count = (name: string) => Number(new RegExp(`^${name}:\\s+(\\d+)`, 'm').exec(text)?.[1] ?? NaN);
    return Number.isFinite(count('Bones')) ? { moving: count('Bones'), clips: count('Animations') } : null;
  } catch {
    return null;
  }
}

/** By number, hash and format: what the file is called on somebody's disk is of no interest here. */
const label = (sha256: string, file: string): string =>
  `${entries.length} | ${sha256.slice(0, 12)} | ${path.extname(file).slice(1).toLowerCase()}`;

const entries: Entry[] = [];
const rows: string[] = [];
for (const file of listModels()) {
  const { sha256, result } = await readModel(file);
  if (result.verdict === 'refused') {
    entries.push({ file, sha256, verdict: 'refused', code: result.code });
    rows.push(`| ${label(sha256, file)} | refused: ${result.message.replaceAll('|', '\\|').slice(0, 110)} | | | | |`);
    continue;
  }
  const { rig } = result;
  const other = otherCounts(file);
  entries.push({
    file,
    sha256,
    verdict: 'read',
    kind: rig.kind,
    bones: ownBones(rig),
    moving: movingBones(rig),
    clips: rig.clips.length,
    vertices: rig.mesh.vertexCount,
    other,
  });
  rows.push(
    `| ${label(sha256, file)} | ${rig.kind} | ${ownBones(rig)} | ${movingBones(rig)} | ${rig.clips.length} | ${other ? `${other.moving} moving, ${other.clips} clips` : 'cannot read it'} |`,
  );
}
writeFileSync(path.join(import.meta.dirname, 'list.json'), `${JSON.stringify(entries, null, 1)}\n`);
const intro = readFileSync(path.join(import.meta.dirname, 'table-head.md'), 'utf8');
writeFileSync(
  path.join(import.meta.dirname, '../../docs/third-party-files.md'),
  `${intro}\n| no. | SHA-256, start | format | verdict | bones | moving vertices | clips | another reader |\n|---|---|---|---|---|---|---|---|\n${rows.join('\n')}\n`,
);
process.stdout.write(
  `${entries.filter((entry) => entry.verdict === 'read').length} read, ${entries.filter((entry) => entry.verdict === 'refused').length} refused\n`,
);
