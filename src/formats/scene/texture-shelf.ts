import type { TextureFact } from '@/core/rig/source-facts';
import type { Companions } from '../files/companions';
import { imageSize, imageType } from '@/core/rig/image-facts';
import type { DraftTexture } from './scene-draft';

/** Collects the textures a file refers to and says of each whether it is there. */
export class TextureShelf {
  readonly textures: DraftTexture[] = [];
  private readonly facts: { -readonly [Key in keyof TextureFact]: TextureFact[Key] }[] = [];
  private readonly places = new Map<string, number>();

  constructor(private readonly companions: Companions) {}

  /** @param name the reference as the file writes it; only its last part is looked up, among the files given. */
  place(name: string, embedded: Uint8Array | null, purpose: string): number {
    const known = this.places.get(name);
    if (known !== undefined) {
      const fact = this.facts[known];
      if (!fact.purposes.includes(purpose)) fact.purposes = [...fact.purposes, purpose];
      return known;
    }
    const found = embedded ? null : this.companions.findByName(name);
    const bytes = embedded ?? found?.bytes ?? null;
    const isDrawable = bytes !== null && imageType(bytes) !== null;
    const size = bytes ? imageSize(bytes) : { width: 0, height: 0 };
    const status = embedded ? 'embedded' : found ? (found.isSupplied ? 'supplied' : 'resolved') : 'missing';
    const at = this.textures.push({ name, image: isDrawable ? bytes : null }) - 1;
    this.facts.push({ name: name.slice(0, 500), status, purposes: [purpose], bytes: bytes?.length ?? 0, ...size });
    this.places.set(name, at);
    return at;
  }

  listFacts(): TextureFact[] {
    return this.facts.map((fact) => ({ ...fact }));
  }
}
