import { readGlbContainer } from '@/formats/gltf/glb-container';
import { writeFigure, type Figure } from '../figure/write-figure';

const ROLE = /^(hips|spine|chest|upperChest|neck|head|jaw|(left|right)[A-Z]\w+)$/;

/** A figure as VRM 1.0: its GLB with a humanoid block, expressions and the author's terms. */
export async function writeVrm(figure: Figure): Promise<Uint8Array> {
  const { json, binary } = readGlbContainer(await writeFigure(figure), figure.name);
  const nodes = json.nodes as { name: string }[];
  const humanBones = Object.fromEntries(
    figure.joints
      .filter((joint) => ROLE.test(joint.truth))
      .map((joint) => [joint.truth, { node: nodes.findIndex((node) => node.name === joint.name) }]),
  );
  const vrm = {
    specVersion: '1.0',
    meta: {
      name: figure.name,
      version: '1',
      authors: ['Gannet & Twine'],
      copyrightInformation: 'made up for Low Tide Lanterns',
      licenseUrl: 'https://vrm.dev/licenses/1.0/',
      avatarPermission: 'everyone',
      commercialUsage: 'corporation',
      modification: 'allowModificationRedistribution',
    },
    humanoid: { humanBones },
    expressions: { preset: { happy: {}, blink: {}, aa: {} }, custom: { counting: {} } },
  };
  return pack({ ...json, extensionsUsed: ['VRMC_vrm'], extensions: { VRMC_vrm: vrm } }, binary ?? new Uint8Array());
}

function pack(json: object, binary: Uint8Array): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const textBytes = Math.ceil(text.length / 4) * 4;
  const binaryBytes = Math.ceil(binary.length / 4) * 4;
  const out = new Uint8Array(28 + textBytes + binaryBytes);
  const view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, textBytes, 0x4e4f534a].forEach((value, at) => view.setUint32(at * 4, value, true));
  out.fill(0x20, 20, 20 + textBytes).set(text, 20);
  view.setUint32(20 + textBytes, binaryBytes, true);
  view.setUint32(24 + textBytes, 0x004e4942, true);
  out.set(binary, 28 + textBytes);
  return out;
}
