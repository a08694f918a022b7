import type { OverlayTheme } from './overlay-types';

/** Colours of the stage, from the theme's properties. */
export interface StageTheme extends OverlayTheme {
  readonly grid: string;
}

export function readTheme(element: HTMLElement): StageTheme {
  const style = getComputedStyle(element);
  const read = (name: string, fallback: string) => style.getPropertyValue(name).trim() || fallback;
  return {
    left: read('--tint-left', '#4a43a8'),
    right: read('--tint-right', '#9c4f1c'),
    centre: read('--tint-centre', '#57534a'),
    ink: read('--color-base-content', '#24221f'),
    quiet: read('--ink-quiet', '#635e54'),
    ground: read('--stage-ground', '#efece4'),
    accent: read('--color-primary', '#4a43a8'),
    alarm: read('--color-error', '#8a2d62'),
    grid: read('--stage-grid', '#d6d0c2'),
  };
}
