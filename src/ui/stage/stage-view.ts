import * as three from 'three';
import type { Normalisation } from '@/core/frame/normalise';
import type { Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { RigPose } from '@/core/rig/pose';
import { drawRule, drawSkeleton, pickBone, pickTied, type OverlayState, type OverlayTheme } from './skeleton-overlay';
import { layFloor, makeFloor } from './floor';
import { readTheme, type StageTheme } from './stage-theme';
import {
  cameraAxes,
  eyeDistance,
  fitCamera,
  FREE_FIELD_RAD,
  panCamera,
  projector,
  type PaneCamera,
  type PaneView,
} from './projection';

export type StageMesh = 'solid' | 'see-through' | 'hidden';

/** A loaded character: its scene in file space and its nodes by their index in the file. */
export interface StageModel {
  readonly scene: three.Object3D;
  readonly nodes: ReadonlyMap<number, three.Object3D>;
}

export interface StageCallbacks {
  readonly onPick: (bone: number | null) => void;
  readonly onHover: (bone: number | null) => void;
  /** Several joints lie under the pointer; pixels in the container. */
  readonly onPickTied: (bones: readonly number[], x: number, y: number) => void;
}

interface Pane {
  camera: PaneCamera;
  /** Pixels in the container. */
  rect: { x: number; y: number; width: number; height: number };
  places: ([number, number] | null)[];
}

const LABELS: Record<PaneView, string> = { front: 'Front', side: 'Side', top: 'Top', free: 'Free' };

/** Draws mesh and floor with WebGL and the skeleton on a flat canvas over it; only when something changed. */
export class StageView {
  private readonly renderer: three.WebGLRenderer | null;
  private readonly scene = new three.Scene();
  private readonly holder = new three.Group();
  /** Made once: a material that comes and goes has its shader compiled anew each time. */
  private readonly floor = makeFloor();
  private theme: StageTheme | null = null;
  private readonly overlay = document.createElement('canvas');
  private readonly observer: ResizeObserver;
  private panes: Pane[] = [];
  private model: StageModel | null = null;
  private state: OverlayState = {
    bones: [],
    before: null,
    selected: null,
    hovered: null,
    highlighted: new Set(),
    jointScale: 1,
    hasLabels: false,
    isolated: null,
    planned: null,
  };
  private mesh: StageMesh = 'see-through';
  private extent: readonly Vec3[] = [];
  private height = { metres: 1.8, floor: 0 };
  private scheduled = 0;
  private drag: { pane: Pane; x: number; y: number; moved: number; button: number; isPan: boolean } | null = null;
  /** Whether the mesh must be drawn anew in the next frame. */
  private isMeshStale = true;
  private needsFit = true;
  private focus: readonly number[] | null = null;
  /** Once a person has moved a camera, a new pose no longer moves it for them. */
  private isMovedByHand = false;

  constructor(
    private readonly container: HTMLElement,
    private readonly callbacks: StageCallbacks,
  ) {
    this.renderer = createRenderer();
    if (this.renderer) {
      this.renderer.domElement.className = 'absolute inset-0';
      container.append(this.renderer.domElement);
    }
    this.overlay.className = 'absolute inset-0 touch-none';
    this.overlay.setAttribute('aria-hidden', 'true');
    container.append(this.overlay);
    this.holder.matrixAutoUpdate = false;
    this.scene.add(
      this.floor.flat,
      this.floor.edge,
      this.holder,
      new three.HemisphereLight(0xffffff, 0xb9b2a4, 2.1),
      sun(),
    );
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(container);
    this.overlay.addEventListener('pointerdown', this.onDown);
    this.overlay.addEventListener('pointermove', this.onMove);
    this.overlay.addEventListener('pointerup', this.onUp);
    this.overlay.addEventListener('pointerleave', this.onLeave);
    this.overlay.addEventListener('wheel', this.onWheel, { passive: false });
    this.overlay.addEventListener('contextmenu', (event) => event.preventDefault());
    window.addEventListener('yarvo-theme', this.onTheme);
  }

  dispose(): void {
    cancelAnimationFrame(this.scheduled);
    this.observer.disconnect();
    window.removeEventListener('yarvo-theme', this.onTheme);
    this.renderer?.dispose();
    this.renderer?.forceContextLoss();
    this.container.replaceChildren();
  }

  setModel(model: StageModel | null): void {
    this.holder.clear();
    this.model = model;
    if (model) this.holder.add(model.scene);
    this.applyMesh();
    this.request();
  }

  setNormalisation(normalisation: Normalisation): void {
    const { rotation, scale, heightMetres, floorMetres } = normalisation;
    this.holder.matrix.compose(
      new three.Vector3(),
      new three.Quaternion(...(rotation as Quat)),
      new three.Vector3(scale, scale, scale),
    );
    this.holder.matrixWorldNeedsUpdate = true;
    this.height = { metres: heightMetres, floor: floorMetres };
    layFloor(this.floor, heightMetres, floorMetres);
    this.request();
  }

  /** Puts the mesh into a pose: the rest with some rotations replaced and the hips shifted. */
  setPose(
    pose: RigPose,
    nodeOfBone: (bone: number) => number,
    rest: (bone: number) => { rotation: Quat; translation: Vec3 },
    boneCount: number,
  ): void {
    if (!this.model) return;
    for (let bone = 0; bone < boneCount; bone++) {
      const node = this.model.nodes.get(nodeOfBone(bone));
      if (!node) continue;
      const { rotation, translation } = rest(bone);
      node.quaternion.set(...((pose.rotations[bone] ?? rotation) as [number, number, number, number]));
      node.position.set(...(translation as [number, number, number]));
    }
    if (pose.shift) {
      const node = this.model.nodes.get(nodeOfBone(pose.shift.boneIndex));
      if (node?.parent) {
        // The shift is in file space; the holder's own matrix must not take part.
        const toFile = this.holder.matrix.clone().invert();
        this.scene.updateMatrixWorld(true);
        const world = node
          .getWorldPosition(new three.Vector3())
          .applyMatrix4(toFile)
          .add(new three.Vector3(...pose.shift.offset));
        node.position.copy(node.parent.worldToLocal(world.applyMatrix4(this.holder.matrix)));
      }
    }
    this.request();
  }

  setState(patch: Partial<OverlayState>): void {
    const isNewPose = patch.bones !== undefined && patch.bones !== this.state.bones;
    this.state = { ...this.state, ...patch };
    if (
      (this.needsFit || (isNewPose && !this.isMovedByHand)) &&
      (this.state.bones.length > 0 || this.extent.length > 0)
    )
      this.fit();
    this.requestFrame();
  }

  setMesh(mesh: StageMesh): void {
    this.mesh = mesh;
    this.applyMesh();
    this.request();
  }

  setViews(views: readonly PaneView[]): void {
    const same = views.length === this.panes.length && views.every((view, at) => this.panes[at].camera.view === view);
    if (same) return;
    this.panes = views.map((view) => ({
      camera: { view, target: [0, 0.9, 0], halfHeight: 1, yawRad: 0.55, pitchRad: 0.18 },
      rect: { x: 0, y: 0, width: 1, height: 1 },
      places: [],
    }));
    this.needsFit = true;
    this.resize();
  }

  /** Corners of the mesh's extent at rest, metres; a fit shows them too. */
  setExtent(corners: readonly Vec3[]): void {
    this.extent = corners;
  }

  /** Moves every camera near to some joints; null: back to the whole figure. */
  focusOn(bones: readonly number[] | null): void {
    this.focus = bones && bones.length > 0 ? bones : null;
    this.fit();
  }

  /** Shows the whole figure, or what is in focus, in every pane. */
  fit(): void {
    this.isMovedByHand = false;
    const near =
      this.focus?.flatMap((bone) => (this.state.bones[bone] ? around(this.state.bones[bone].position) : [])) ?? [];
    const whole = (): Vec3[] => [
      ...this.state.bones.map((bone) => bone.position),
      ...this.extent,
      [0, this.height.floor + this.height.metres, 0],
      [0, this.height.floor, 0],
    ];
    const points = near.length > 0 ? near : whole();
    for (const pane of this.panes) pane.camera = fitCamera(pane.camera, points, pane.rect.width, pane.rect.height);
    this.needsFit = this.container.clientWidth === 0;
    this.request();
  }

  readonly request = (): void => {
    this.isMeshStale = true;
    this.requestFrame();
  };

  /** A frame in which the mesh stays as it is: a selection only marks bones. */
  private readonly requestFrame = (): void => {
    if (this.scheduled) return;
    this.scheduled = requestAnimationFrame(() => {
      this.scheduled = 0;
      this.draw();
    });
  };

  private applyMesh(): void {
    this.model?.scene.traverse((object) => {
      const mesh = object as three.Mesh;
      if (!mesh.isMesh) return;
      mesh.visible = this.mesh !== 'hidden';
      mesh.frustumCulled = false;
      for (const material of Array.isArray(mesh.material) ? mesh.material : [mesh.material]) {
        material.transparent = this.mesh === 'see-through';
        material.opacity = this.mesh === 'see-through' ? 0.34 : 1;
        material.depthWrite = true;
        material.needsUpdate = true;
      }
    });
  }

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.container;
    if (width === 0 || height === 0 || this.panes.length === 0) return;
    const ratio = Math.min(window.devicePixelRatio, 2);
    this.renderer?.setPixelRatio(ratio);
    this.renderer?.setSize(width, height);
    this.overlay.width = Math.round(width * ratio);
    this.overlay.height = Math.round(height * ratio);
    this.overlay.style.width = `${width}px`;
    this.overlay.style.height = `${height}px`;
    const columns = this.panes.length > 1 ? 2 : 1;
    const rows = Math.ceil(this.panes.length / columns);
    this.panes.forEach((pane, at) => {
      const [w, h] = [width / columns, height / rows];
      pane.rect = { x: (at % columns) * w, y: Math.floor(at / columns) * h, width: w, height: h };
    });
    this.fit();
  }

  private draw(): void {
    const theme = (this.theme ??= readTheme(this.container));
    const ratio = this.overlay.width / Math.max(1, this.container.clientWidth);
    const canvas = this.overlay.getContext('2d');
    if (!canvas) return;
    canvas.setTransform(ratio, 0, 0, ratio, 0, 0);
    canvas.clearRect(0, 0, this.container.clientWidth, this.container.clientHeight);
    for (const pane of this.panes) {
      if (this.isMeshStale) this.drawMesh(pane, theme);
      canvas.save();
      canvas.beginPath();
      canvas.rect(pane.rect.x, pane.rect.y, pane.rect.width, pane.rect.height);
      canvas.clip();
      canvas.translate(pane.rect.x, pane.rect.y);
      const project = projector(pane.camera, pane.rect.width, pane.rect.height);
      if (!this.renderer) drawFlatGround(canvas, pane, theme);
      if (pane.camera.view === 'front' || pane.camera.view === 'side')
        drawRule(canvas, project, { heightMetres: this.height.metres, floorMetres: this.height.floor }, 52, theme);
      pane.places = drawSkeleton(canvas, this.state, project, theme);
      if (this.panes.length > 1) drawPaneFrame(canvas, pane, theme);
      canvas.restore();
    }
    this.isMeshStale = false;
    // What the last drawing showed, for whoever cannot see it.
    this.overlay.dataset.drawn = this.state.planned
      ? `planned: ${this.state.planned.joints.length} joints, ${this.state.planned.rods.length} rods`
      : 'as it is';
  }

  private drawMesh(pane: Pane, theme: StageTheme): void {
    const { renderer } = this;
    if (!renderer) return;
    const { x, y, width, height } = pane.rect;
    const bottom = this.container.clientHeight - y - height;
    renderer.setScissorTest(true);
    renderer.setViewport(x, bottom, width, height);
    renderer.setScissor(x, bottom, width, height);
    renderer.setClearColor(theme.ground);
    renderer.clear();
    const isFlat = pane.camera.view === 'free' || pane.camera.view === 'top';
    this.floor.flat.visible = isFlat;
    this.floor.edge.visible = !isFlat;
    this.floor.material.color.set(theme.grid);
    renderer.render(this.scene, cameraFor(pane, width / height));
  }

  private paneAt(event: PointerEvent | WheelEvent): { pane: Pane; x: number; y: number } | null {
    const bounds = this.overlay.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    const pane = this.panes.find(
      ({ rect }) => x >= rect.x && x < rect.x + rect.width && y >= rect.y && y < rect.y + rect.height,
    );
    return pane ? { pane, x: x - pane.rect.x, y: y - pane.rect.y } : null;
  }

  private readonly onDown = (event: PointerEvent): void => {
    const hit = this.paneAt(event);
    if (!hit) return;
    this.overlay.setPointerCapture(event.pointerId);
    const isPan = hit.pane.camera.view !== 'free' || event.button !== 0 || event.shiftKey;
    this.drag = { pane: hit.pane, x: event.clientX, y: event.clientY, moved: 0, button: event.button, isPan };
  };

  private readonly onMove = (event: PointerEvent): void => {
    if (!this.drag) {
      const hit = this.paneAt(event);
      const bone = hit ? pickBone(this.state, hit.pane.places, hit.x, hit.y) : null;
      this.overlay.style.cursor = bone === null ? 'default' : 'pointer';
      if (bone !== this.state.hovered) this.callbacks.onHover(bone);
      return;
    }
    const [dx, dy] = [event.clientX - this.drag.x, event.clientY - this.drag.y];
    this.drag.moved += Math.abs(dx) + Math.abs(dy);
    [this.drag.x, this.drag.y] = [event.clientX, event.clientY];
    const { pane, isPan } = this.drag;
    if (this.drag.moved > 5) this.isMovedByHand = true;
    pane.camera = isPan
      ? panCamera(pane.camera, dx, dy, pane.rect.height)
      : {
          ...pane.camera,
          yawRad: pane.camera.yawRad - dx * 0.008,
          pitchRad: Math.max(-1.5, Math.min(1.5, pane.camera.pitchRad + dy * 0.008)),
        };
    this.request();
  };

  private readonly onUp = (event: PointerEvent): void => {
    const { drag } = this;
    this.drag = null;
    if (!drag || drag.moved > 5 || drag.button !== 0) return;
    const hit = this.paneAt(event);
    if (!hit) return;
    const tied = pickTied(hit.pane.places, hit.x, hit.y);
    if (tied.length > 1) this.callbacks.onPickTied(tied, hit.pane.rect.x + hit.x, hit.pane.rect.y + hit.y);
    else this.callbacks.onPick(pickBone(this.state, hit.pane.places, hit.x, hit.y));
  };

  private readonly onTheme = (): void => {
    this.theme = null;
    this.request();
  };

  private readonly onLeave = (): void => {
    if (!this.drag && this.state.hovered !== null) this.callbacks.onHover(null);
  };

  private readonly onWheel = (event: WheelEvent): void => {
    event.preventDefault();
    const hit = this.paneAt(event);
    if (!hit) return;
    this.isMovedByHand = true;
    const factor = Math.exp(Math.max(-0.3, Math.min(0.3, event.deltaY * 0.0015)));
    hit.pane.camera = {
      ...hit.pane.camera,
      halfHeight: Math.max(0.02, Math.min(50, hit.pane.camera.halfHeight * factor)),
    };
    this.request();
  };
}

/** Room about a joint in a close-up, metres. */
const CLOSE_UP_METRES = 0.09;
const around = ([x, y, z]: Vec3): Vec3[] => [-CLOSE_UP_METRES, CLOSE_UP_METRES].map((by) => [x + by, y + by, z + by]);

/** Null where the browser has no WebGL: the skeleton is drawn all the same. */
function createRenderer(): three.WebGLRenderer | null {
  try {
    const renderer = new three.WebGLRenderer({ antialias: true, powerPreference: 'low-power' });
    // Asking for a shader's errors waits for the driver; the shaders are three's own.
    renderer.debug.checkShaderErrors = false;
    return renderer;
  } catch {
    return null;
  }
}

function sun(): three.DirectionalLight {
  const light = new three.DirectionalLight(0xfff6e6, 1.6);
  light.position.set(1.5, 3, 2.5);
  return light;
}

function cameraFor(pane: Pane, aspect: number): three.Camera {
  const { camera } = pane;
  const { up, back } = cameraAxes(camera);
  const h = camera.halfHeight;
  const distance = eyeDistance(camera);
  const lens =
    camera.view === 'free'
      ? new three.PerspectiveCamera((FREE_FIELD_RAD * 180) / Math.PI, aspect, distance / 100, distance * 10)
      : new three.OrthographicCamera(-h * aspect, h * aspect, h, -h, distance / 500, distance * 4);
  lens.up.set(...(up as [number, number, number]));
  lens.position.set(
    camera.target[0] + back[0] * distance,
    camera.target[1] + back[1] * distance,
    camera.target[2] + back[2] * distance,
  );
  lens.lookAt(...(camera.target as [number, number, number]));
  return lens;
}

function drawFlatGround(canvas: CanvasRenderingContext2D, pane: Pane, theme: OverlayTheme): void {
  canvas.fillStyle = theme.ground;
  canvas.fillRect(0, 0, pane.rect.width, pane.rect.height);
}

function drawPaneFrame(canvas: CanvasRenderingContext2D, pane: Pane, theme: OverlayTheme): void {
  canvas.strokeStyle = theme.quiet;
  canvas.globalAlpha = 0.35;
  canvas.lineWidth = 1;
  canvas.strokeRect(0.5, 0.5, pane.rect.width - 1, pane.rect.height - 1);
  canvas.globalAlpha = 1;
  canvas.fillStyle = theme.quiet;
  canvas.font = '13px "Source Sans 3 Variable", sans-serif';
  canvas.textAlign = 'right';
  canvas.textBaseline = 'top';
  canvas.fillText(LABELS[pane.camera.view], pane.rect.width - 10, 8);
  canvas.textAlign = 'left';
}
