declare module 'draco3dgltf' {
  /** Loads the Draco decoder; its type is opaque here, gltf-transform is what calls it. */
  export function createDecoderModule(): Promise<unknown>;
  export function createEncoderModule(): Promise<unknown>;
}
