import { parseArgs } from 'node:util';
import { today } from '@/pipeline/judge';
import { carry } from './carry';
import { drill } from './drill';
import { check, CHECK_FORMATS } from './check';
import { chosenOf } from './options';
import { inspect } from './inspect';
import { listMotions, makeMotion } from './motion';
import { posture } from './posture';
import { skeleton } from './skeleton';

const USAGE = `yarvo inspect FILE... [--json] [--definition ID] [--profile ID]
yarvo posture FILE... [--align] [--from POSE] [--out DIR] [--definition ID] [--json]
yarvo carry MOTION-FILE CHARACTER-FILE... --out DIR [--clip NAME] [--rate N] [--definition ID] [--reference POSE] [--root WHAT] [--feet HOW] [--set KEY=VALUE]... [--json]
yarvo motion list [--json]
yarvo motion make NAME --out DIR [--set KEY=VALUE]... [--rate N] [--definition ID] [--json]
yarvo check FILE... [--profile ID] [--definition ID] [--waivers FILE] [--format json|junit|sarif|text] [--fail-on blocker|caution] [--repair safe --out DIR]
yarvo skeleton FILE [--definition ID]
yarvo drill CHARACTER-FILE... [--motions DIR] [--profile ID] [--definition ID] [--json]

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

carry
  Carries the clips of a motion file to characters: both are matched and turned onto the reference pose by themselves.
  The motion may also be a motion file (.yarvomotion), or one of the house set: house:walk.
  --out          folder for a GLB of each character with the clip (metres, Y up, facing +Z) and a BVH
  --clip         the one clip to carry (default: all)
  --rate         frames a second (default: the clip's own)
  --reference    the source's pose that the reference pose is made from: rest (default), bind, or frame:N, which is left
                 out of the clip
  --root         what of the hips' travel goes to the root bone: none (default), or horizontal, vertical, turn, joined by
                 commas
  --feet         leave: where rotations bring them (default); likeness: as they stand in the source, where the legs are unlike;
                 plant: where they bear they stay
  --set          a setting of a house motion, as for motion make
  --definition   as above
  --json         one JSON line per clip and character (docs/formats.md)

  Exit code: 2 if a file was unreadable or a clip could not be carried, else 0.

motion
  list           the motions of the house set, and what can be set about them
  make           makes one: NAME.yarvomotion, a motion free of any skeleton, and the house figure playing it as NAME.glb and NAME.bvh
  --set          a setting and its value, speed=1.6; as often as wanted
  --rate         frames a second (default: 60)
  --out, --definition, --json   as above

  Exit code: 2 if there is no such motion or a setting is wrong, else 0.

skeleton
  Prints the skeleton of a file as an engine profile holds it (docs/formats.md): names, tree, rest, and the roles of its bones.
  --definition   as above

  Exit code: 2 if the file was unreadable or holds no skeleton, else 0.

drill
  Carries motions to each character, feet by likeness, and measures in every frame: soles, slides, knees, elbows, twists,
  jumps, speeds, room between hands, arms and body, the way of the hips, balance, and what shows a wrong mapping.
  --motions      folder of motion files (default: the house set)
  --profile      engine target whose limits count, as above
  --definition, --json   as above

  Exit code: 2 if something could not be read or carried, else 1 if a limit is passed, else 0.

check
  Plans the handoff of each file and checks it for an engine. Runs without a database.
  --profile      the engine target: a shipped one (tidewater, ebb), or a JSON file (default: tidewater)
  --waivers      JSON file of findings that are accepted (docs/formats.md)
  --format       json: one line per model; junit, sarif: one document; text (default)
  --fail-on      from which severity on the run fails: blocker (default) or caution
  --repair safe  makes every safe repair that a finding offers, and writes the characters into --out as GLB
  --definition   as above

  Exit code: 2 if a file was unreadable, else 1 if a finding of that severity is open, else 0.
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
      clip: { type: 'string' },
      rate: { type: 'string' },
      reference: { type: 'string', default: 'rest' },
      root: { type: 'string', default: 'none' },
      feet: { type: 'string', default: 'leave' },
      set: { type: 'string', multiple: true, default: [] },
      motions: { type: 'string' },
      format: { type: 'string', default: 'text' },
      'fail-on': { type: 'string', default: 'blocker' },
      waivers: { type: 'string' },
      repair: { type: 'string' },
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
  if (command === 'carry' && files.length > 1 && out !== undefined) {
    const { clip, rate, reference, root, feet, set } = values;
    const [motion, ...characters] = files;
    return carry({ motion, characters, json, out, clip, rate, reference, root, feet, set, definition, write });
  }
  if (command === 'drill' && files.length > 0)
    return drill({ characters: files, motions: values.motions, definition, profile, json, write });
  if (command === 'check' && files.length > 0) {
    const format = chosenOf('--format', values.format, CHECK_FORMATS);
    const failOn = chosenOf('--fail-on', values['fail-on'], ['blocker', 'caution'] as const);
    if (values.repair !== undefined) chosenOf('--repair', values.repair, ['safe'] as const);
    if ((values.repair === undefined) === (out === undefined)) {
      const { waivers } = values;
      const day = today();
      return check({ files, profile, definition, waivers, format, failOn, out, day, write });
    }
  }
  if (command === 'skeleton' && files.length === 1)
    return skeleton({ file: files[0], definition, write, complain: (text) => process.stderr.write(text) });
  if (command === 'motion' && files[0] === 'list' && files.length === 1) return listMotions({ json, write });
  if (command === 'motion' && files[0] === 'make' && files.length === 2 && out !== undefined)
    return makeMotion({ name: files[1], set: values.set, out, rate: values.rate, json, definition, write });
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
