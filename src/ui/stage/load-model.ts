import * as three from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { StageModel } from './stage-view';

/** Loads a GLB by address. Nodes are found by their index in the file, since names may repeat. */
export async function loadModel(url: string): Promise<StageModel> {
  const gltf = await new GLTFLoader().loadAsync(url);
  const nodes = new Map<number, three.Object3D>();
  gltf.parser.associations.forEach((association, object) => {
    const index = (association as { nodes?: number } | undefined)?.nodes;
    // A mesh of several parts is split below its node; the node itself comes first.
    if (index !== undefined && object instanceof three.Object3D && !nodes.has(index)) nodes.set(index, object);
  });
  return { scene: gltf.scene, nodes };
}
