import * as three from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';

/** A loaded character: its scene in file space and its nodes by their index in the file. */
export interface StageModel {
  readonly scene: three.Object3D;
  readonly nodes: ReadonlyMap<number, three.Object3D>;
}

/** The model that was opened last; steps of one character share it. */
let kept: { readonly url: string; readonly model: Promise<StageModel>; users: number } | null = null;

/**
 * Loads a GLB by address, once for all steps that show it. When another is opened, and nobody shows the one before any
 * more, its meshes and textures leave the graphics card.
 */
export function openModel(url: string): { readonly model: Promise<StageModel>; close(): void } {
  if (kept?.url !== url) {
    const before = kept;
    kept = { url, model: loadModel(url), users: 0 };
    if (before?.users === 0) disposeOf(before.model);
  }
  const mine = kept;
  mine.users++;
  return {
    model: mine.model,
    close: () => {
      mine.users--;
      if (mine.users === 0 && kept !== mine) disposeOf(mine.model);
    },
  };
}

/** Loads a GLB for a figure that stands beside the character; whoever opened it closes it. */
export function openGuestModel(url: string): { readonly model: Promise<StageModel>; close(): void } {
  const model = loadModel(url);
  return { model, close: () => disposeOf(model) };
}

/** Nodes are found by their index in the file, since names may repeat. */
async function loadModel(url: string): Promise<StageModel> {
  try {
    const gltf = await new GLTFLoader().loadAsync(url);
    const nodes = new Map<number, three.Object3D>();
    gltf.parser.associations.forEach((association, object) => {
      const index = (association as { nodes?: number } | undefined)?.nodes;
      // A mesh of several parts is split below its node; the node itself comes first.
      if (index !== undefined && object instanceof three.Object3D && !nodes.has(index)) nodes.set(index, object);
    });
    return { scene: gltf.scene, nodes };
  } catch (error) {
    // Another try must load again, not fail again.
    if (kept?.url === url) kept = null;
    throw error;
  }
}

function disposeOf(model: Promise<StageModel>): void {
  model.then(
    ({ scene }) => {
      scene.traverse((object) => {
        const mesh = object as three.SkinnedMesh;
        if (!mesh.isMesh) return;
        mesh.geometry.dispose();
        if (mesh.isSkinnedMesh) mesh.skeleton.dispose();
        for (const material of materialsOf(mesh)) disposeOfMaterial(material);
      });
    },
    () => undefined,
  );
}

export const materialsOf = ({ material }: three.Mesh): three.Material[] =>
  Array.isArray(material) ? material : [material];

function disposeOfMaterial(material: three.Material): void {
  for (const value of Object.values(material) as unknown[])
    if (value instanceof three.Texture) {
      (value.source.data as { close?: () => void } | null)?.close?.();
      value.dispose();
    }
  material.dispose();
}
