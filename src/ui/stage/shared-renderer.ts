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

/** A renderer and who draws with it: the last of them. */
interface Seat {
  readonly renderer: three.WebGLRenderer;
  readonly holders: Holder[];
}

/** A screen shows one stage, or two: a pose, and the motion that it is tried in. */
const MOST_RENDERERS = 2;
const seats: Seat[] = [];

/**
 * Hands out a renderer of the page: its canvas moves into the container. A browser keeps few graphics contexts and compiles
 * shaders for each, so a step of its own makes none: what an earlier stage gave back is taken. Of more stages at once than
 * there are renderers the newest draw. Null where the browser has no WebGL: the skeleton is drawn all the same.
 *
 * @param onRestored called once the graphics card works again after it was lost: everything must be drawn anew.
 */
export function leaseRenderer(container: HTMLElement, onRestored: () => void): RendererLease | null {
  const seat = seats.find(({ holders }) => holders.length === 0) ?? addSeat() ?? seats.at(-1);
  if (!seat) return null;
  const { renderer, holders } = seat;
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

let isWithoutWebGL = false;

function addSeat(): Seat | null {
  if (isWithoutWebGL || seats.length >= MOST_RENDERERS) return null;
  const holders: Holder[] = [];
  const renderer = createRenderer(holders);
  isWithoutWebGL = renderer === null;
  if (!renderer) return null;
  const seat = { renderer, holders };
  seats.push(seat);
  return seat;
}

/** Without one every pixel is drawn by the processor, and smooth edges cost four times the time. */
function hasGraphicsCard(): boolean {
  const probe = document.createElement('canvas').getContext('webgl2', { failIfMajorPerformanceCaveat: true });
  probe?.getExtension('WEBGL_lose_context')?.loseContext();
  return probe !== null;
}

function createRenderer(holders: readonly Holder[]): three.WebGLRenderer | null {
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
