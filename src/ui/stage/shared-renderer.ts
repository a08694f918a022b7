import * as three from 'three';

/** The right to draw with the page's renderer, until it is given back. */
export interface RendererLease {
  readonly renderer: three.WebGLRenderer;
  release(): void;
}

interface Holder {
  readonly container: HTMLElement;
  readonly onRestored: () => void;
}

/** Null where the browser has no WebGL: the skeleton is drawn all the same. */
let shared: three.WebGLRenderer | null | undefined;
const holders: Holder[] = [];

/**
 * Hands out the one renderer of the page: its canvas moves into the container. A browser keeps few graphics contexts and
 * compiles shaders for each, so a step of its own makes none. Of two stages at once the newer one draws.
 *
 * @param onRestored called once the graphics card works again after it was lost: everything must be drawn anew.
 */
export function leaseRenderer(container: HTMLElement, onRestored: () => void): RendererLease | null {
  shared ??= createRenderer();
  if (!shared) return null;
  const renderer = shared;
  const holder: Holder = { container, onRestored };
  holders.push(holder);
  container.prepend(renderer.domElement);
  return {
    renderer,
    release: () => {
      holders.splice(holders.indexOf(holder), 1);
      const next = holders.at(-1);
      if (next) {
        next.container.prepend(renderer.domElement);
        next.onRestored();
      } else renderer.domElement.remove();
    },
  };
}

/** Without one every pixel is drawn by the processor, and smooth edges cost four times the time. */
function hasGraphicsCard(): boolean {
  const probe = document.createElement('canvas').getContext('webgl2', { failIfMajorPerformanceCaveat: true });
  probe?.getExtension('WEBGL_lose_context')?.loseContext();
  return probe !== null;
}

function createRenderer(): three.WebGLRenderer | null {
  try {
    const renderer = new three.WebGLRenderer({ antialias: hasGraphicsCard(), powerPreference: 'low-power' });
    // Asking for a shader's errors waits for the driver; the shaders are three's own.
    renderer.debug.checkShaderErrors = false;
    // Several panes are drawn into one canvas, each clearing its own part.
    renderer.autoClear = false;
    renderer.domElement.className = 'absolute inset-0';
    // The renderer itself puts its state back; what it showed must be drawn again by whoever holds it.
    renderer.domElement.addEventListener('webglcontextrestored', () => {
      for (const { onRestored } of holders) onRestored();
    });
    return renderer;
  } catch {
    return null;
  }
}
