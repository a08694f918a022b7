import { parseArgs } from 'node:util';
import { inspect } from './inspect';

const USAGE = `yarvo inspect FILE... [--json] [--definition ID] [--profile ID]

  Reads each file (glTF, GLB, VRM, FBX, COLLADA, BVH, zip), matches its bones and checks it for the shipped engine target.
  --json         one JSON line per model (docs/formats.md)
  --definition   what bones are matched onto: a shipped one, or a JSON file (default: quay)
  --profile      the engine target that it is checked for: a shipped one, or a JSON file (default: tidewater)

  Exit code: 2 if a file was unreadable, else 1 if one has blockers, else 0.
`;

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      definition: { type: 'string' },
      profile: { type: 'string' },
      help: { type: 'boolean', default: false },
    },
  });
  const [command, ...files] = positionals;
  if (values.help) {
    process.stdout.write(USAGE);
    return 0;
  }
  if (command !== 'inspect' || files.length === 0) {
    process.stderr.write(USAGE);
    return 2;
  }
  const { json, definition, profile } = values;
  return inspect({ files, json, definition, profile, write: (text) => process.stdout.write(text) });
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
