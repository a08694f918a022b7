import { YarvoError } from '@/core/errors/yarvo-error';
import { GROUNDINGS, ROOT_COMPONENTS, type Grounding, type RootComponent } from '@/core/motion/carry-options';
import type { Reference } from '@/pipeline/carry';

const wrong = (option: string, value: string, remedy: string): YarvoError =>
  new YarvoError({ code: 'bad-option', message: `${option} cannot be "${value}". ${remedy}`, place: option, remedy });

/** "rest", "bind" or "frame:N". @throws {YarvoError} `bad-option` */
export function referenceOf(text: string): Reference {
  if (text === 'rest' || text === 'bind') return { kind: text };
  const [, frame] = /^frame:(\d+)$/.exec(text) ?? [];
  if (frame === undefined) throw wrong('--reference', text, 'Give rest, bind or frame:N.');
  return { kind: 'frame', frame: Number(frame) };
}

/** Frames a second; null where none is given. @throws {YarvoError} `bad-option` */
export function rateOf(text: string | undefined): number | null {
  if (text === undefined) return null;
  const rate = Number(text);
  if (!(rate > 0 && rate <= 1000)) throw wrong('--rate', text, 'Give frames a second, above 0 and up to 1000.');
  return rate;
}

/** "none", or components joined by commas. @throws {YarvoError} `bad-option` */
export function rootOf(text: string): RootComponent[] {
  if (text === 'none') return [];
  return text.split(',').map((part) => {
    const found = ROOT_COMPONENTS.find((component) => component === part.trim());
    if (!found) throw wrong('--root', text, `Give none, or some of ${ROOT_COMPONENTS.join(', ')}, joined by commas.`);
    return found;
  });
}

/** How feet are stood. @throws {YarvoError} `bad-option` */
export const groundingOf = (text: string): Grounding => chosenOf('--feet', text, GROUNDINGS);

/** One of some words. @throws {YarvoError} `bad-option` */
export function chosenOf<Word extends string>(option: string, text: string, words: readonly Word[]): Word {
  const found = words.find((word) => word === text);
  if (!found) throw wrong(option, text, `Give ${words.join(', ')}.`);
  return found;
}
