/** Ends of names that hold a character or motion of their own; everything else only comes along. */
const MODEL = /\.(glb|gltf|vrm|fbx|dae|bvh)$/i;
/** Ends of names that a model refers to: pictures and buffers. The browser and the command line take the same. */
const COMPANION = /\.(png|jpe?g|webp|ktx2|bin|tga|bmp|tiff?|dds|exr|hdr)$/i;

export const isModel = (path: string): boolean => MODEL.test(path);
export const isCompanion = (path: string): boolean => COMPANION.test(path);
