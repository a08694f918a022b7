import type { Animation, Document, Node } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { TreeRepair } from '@/core/intake/decisions';
import { compose, decompose, IDENTITY, invertAffine, multiply, type Mat4 } from '@/core/math/mat4';
import { accessorFloats } from '../gltf/accessor-floats';
import { sampleClip } from '../gltf/sample-clip';
import { foldBones, reparent, worldOf } from './fold-bones';

/**
 * Carries out repairs of the tree, one after another. No joint moves in the rest pose or in any clip: bones that get
 * another parent get their keys anew, one wherever something above them was keyed before or is now.
 * @param nodes of the file as read; the repairs name them by index.
 * @throws {YarvoError} where a repair does not fit the file.
 */
export function repairTree(document: Document, nodes: readonly (Node | undefined)[], repairs: readonly TreeRepair[], place: string): void {
  const misfit = (message: string) => new YarvoError({ code: 'decision-misfit', message, place, remedy: 'Take the repair back, or choose another bone.' });
  const nodeAt = (index: number): Node => {
    const node = nodes[index];
    if (!node || node.isDisposed()) throw misfit(`There is no node ${index} to repair, or an earlier repair took it away.`);
    return node;
  };
  for (const repair of repairs) {
    const node = nodeAt(repair.node);
    const parent = node.getParentNode();
    if (repair.kind === 'reparent') {
      const next = nodeAt(repair.parent);
      if (next === node || isBelow(next, node)) throw misfit(`"${node.getName()}" cannot hang on "${next.getName()}", which hangs on it.`);
      keepMotion(document, [node], [next, ...ancestors(next)], () => moveTo(node, next, misfit));
    } else if (repair.kind === 'collapse') {
      if (!parent) throw misfit(`"${node.getName()}" has no parent to take over its weights.`);
      const children = node.listChildren();
      keepMotion(document, children, [], () => {
        children.forEach((child) => moveTo(child, parent, misfit));
        foldBones(document, new Map([[node, parent]]));
      });
    } else {
      if (!parent) throw misfit(`"${node.getName()}" has no parent, so there is no place for a joint before it.`);
      const joint = document.createNode(repair.name);
      const [x, y, z] = node.getTranslation();
      joint.setTranslation([x * repair.share, y * repair.share, z * repair.share]);
      keepMotion(document, [node], [], () => {
        parent.addChild(joint);
        moveTo(node, joint, misfit);
      });
    }
  }
}

function isBelow(node: Node, top: Node): boolean {
  for (let at = node.getParentNode(); at; at = at.getParentNode()) if (at === top) return true;
  return false;
}

/** Parents scaled unevenly would shear what hangs on them; a bone cannot hold that, so it is refused. */
function moveTo(node: Node, parent: Node, misfit: (message: string) => YarvoError): void {
  const before = worldOf(node);
  reparent(node, parent);
  const after = worldOf(node);
  const size = Math.max(...before.map(Math.abs), 1e-9);
  if (before.some((value, at) => Math.abs(value - after[at]) > size * 1e-5)) throw misfit(`"${node.getName()}" would be sheared below "${parent.getName()}", whose scale is uneven.`);
}

interface Track {
  readonly animation: Animation;
  readonly node: Node;
  readonly times: readonly number[];
  /** World of the node at each time, as it was before the repair. */
  readonly worlds: readonly Mat4[];
}

/**
 * Runs a change of the tree and then gives `moved` keys under which they go where they went before.
 * @param above what will stand above them besides what does now.
 */
function keepMotion(document: Document, moved: readonly Node[], above: readonly Node[], change: () => void): void {
  const tracks = document.getRoot().listAnimations().flatMap((animation) => moved.map((node): Track => {
    const times = keyTimes(animation, [node, ...ancestors(node), ...above]);
    return { animation, node, times, worlds: times.map((time) => worldAt(animation, node, time)) };
  }));
  change();
  for (const { animation, node, times, worlds } of tracks) {
    if (times.length === 0) continue;
    writeKeys(document, animation, node, times, times.map((time, at) => decompose(multiply(invertAffine(worldAt(animation, node.getParentNode(), time)) ?? IDENTITY, worlds[at]))));
  }
}

function ancestors(node: Node): Node[] {
  const out: Node[] = [];
  for (let at = node.getParentNode(); at; at = at.getParentNode()) out.push(at);
  return out;
}

/** Seconds at which any of these nodes is keyed, in order. */
function keyTimes(animation: Animation, nodes: readonly Node[]): number[] {
  const wanted = new Set<Node | null>(nodes);
  const times = new Set<number>();
  for (const channel of animation.listChannels()) {
    const input = wanted.has(channel.getTargetNode()) ? channel.getSampler()?.getInput() : null;
    if (input) for (const time of accessorFloats(input, 1)) times.add(time);
  }
  return [...times].sort((a, b) => a - b);
}

function worldAt(animation: Animation, node: Node | null, seconds: number): Mat4 {
  const keyed = sampleClip(animation, seconds);
  let world: Mat4 = IDENTITY;
  for (let at = node; at; at = at.getParentNode()) {
    const change = keyed.get(at);
    world = multiply(compose(change?.translation ?? at.getTranslation(), change?.rotation ?? at.getRotation(), change?.scale ?? at.getScale()), world);
  }
  return world;
}

function writeKeys(document: Document, animation: Animation, node: Node, times: readonly number[], locals: readonly ReturnType<typeof decompose>[]): void {
  for (const channel of animation.listChannels()) if (channel.getTargetNode() === node && channel.getTargetPath() !== 'weights') channel.dispose();
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer);
  for (const path of ['translation', 'rotation', 'scale'] as const) {
    const values = locals.map((local) => [...local[path]]);
    if (path === 'rotation') for (let at = 1; at < values.length; at++) if (values[at].reduce((sum, value, k) => sum + value * values[at - 1][k], 0) < 0) values[at] = values[at].map((value) => -value);
    const output = document.createAccessor().setType(path === 'rotation' ? 'VEC4' : 'VEC3').setArray(Float32Array.from(values.flat())).setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    animation.addSampler(sampler).addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  }
}
