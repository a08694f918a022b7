import { parseArgs } from 'node:util';
import { inspect } from './inspect';
import { posture } from './posture';

const USAGE = `yarvo inspect FILE... [--json] [--definition ID] [--profile ID]
yarvo posture FILE... [--align] [--from POSE] [--out DIR] [--definition ID] [--json]

inspect
  Reads each file (glTF, GLB, VRM, FBX, COLLADA, BVH, zip), matches its bones and checks it for the shipped engine target.
  --json         one JSON line per model (docs/formats.md)
  --definition   what bones are matched onto: a shipped one, or a JSON file (default: quay)
  --profile      the engine target that it is checked for: a shipped one, or a JSON file (default: tidewater)

  Exit code: 2 if a file was unreadable, else 1 if one has blockers, else 0.

posture
  Measures how each figure stands against the definition's reference pose, and rebuilds it there where asked for.
  --align        turns every segment onto the reference pose
  --from         the pose to start from: rest (default), bind, or clip:NAME:FRAME
  --out          folder for the rebuilt GLBs: bound in the new posture, metres, Y up, facing +Z
  --definition   as above; the reference pose is its own (quay, quay-a45, or a JSON file)

  Exit code: 2 if a file was unreadable or does not hold the pose, else 0.
`;

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      definition: { type: 'string' },
      profile: { type: 'string' },
      align: { type: 'boolean', default: false },
      from: { type: 'string', default: 'rest' },
      out: { type: 'string' },
      help: { type: 'boolean', default: false },
    },
  });
  const [command, ...files] = positionals;
  if (values.help) {
    process.stdout.write(USAGE);
    return 0;
  }
  const { json, definition, profile, align, from, out } = values;
  const write = (text: string) => process.stdout.write(text);
  if (command === 'inspect' && files.length > 0) return inspect({ files, json, definition, profile, write });
  if (command === 'posture' && files.length > 0) return posture({ files, json, align, from, out, definition, write });
  process.stderr.write(USAGE);
  return 2;
}

main().then(
  (code) => {
    process.exitCode = code;
  },
  (error: Error) => {
    process.stderr.write(`${error.message}\n\n${USAGE}`);
    process.exitCode = 2;
  },
);
