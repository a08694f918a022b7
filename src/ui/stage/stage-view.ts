import type { Normalisation } from '@/core/frame/normalise';
import type { Vec3 } from '@/core/math/vec3';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import type { StageMesh } from './figure';
import { FigureSet, type FigureSetFrame, type StageGhost, type StageGuest } from './figure-set';
import { frameClock } from './frame-clock';
import type { StageModel } from './load-model';
import { MeshPass } from './mesh-pass';
import { OverlayPass } from './overlay-pass';
import type { OverlayState } from './overlay-types';
import { Pane, type StageHeight } from './pane';
import { pickBone, pickTied } from './pick';
import type { JointPlaces } from './place-set';
import { fitCamera, panCamera, type PaneCamera, type PaneView } from './projection';
import { leaseRenderer, type RendererLease } from './shared-renderer';
import { StageInput, type PaneSpot } from './stage-input';
import { readTheme, type StageTheme } from './stage-theme';
import { BearingDrag } from './bearing-drag';
import { degreesAt, handleOnScreen, isOnKnob } from './turn-handle';

export interface StageCallbacks {
  /** `isMore`: the bone joins what is picked already. */
  readonly onPick: (bone: number | null, isMore: boolean) => void;
  readonly onHover: (bone: number | null) => void;
  /** Several joints lie under the pointer; pixels in the container. */
  readonly onPickTied: (bones: readonly number[], x: number, y: number) => void;
  /** A handle is dragged: degrees from where it was taken, held to steps unless `isFree`. */
  readonly onTurn: (view: PaneView, degrees: number, isDone: boolean) => void;
  /** A point that bears was moved, by metres in body axes; null where they cannot be. */
  readonly onBearing: () => ((point: number, by: Vec3) => void) | null;
}

/** A frame of a motion as the stage shows it. */
export interface PlayedFrame extends FigureSetFrame {
  /** Joints of the character. */
  readonly points: JointPlaces;
  /** Joints of the companions, in their order. */
  readonly companions: readonly JointPlaces[];
  readonly hips: Vec3;
  /** Lower end of the capsule; null for none. */
  readonly capsule: Vec3 | null;
  /** Points of the feet that bear, three numbers each. */
  readonly bearing: JointPlaces;
  /** Most that the hips rise above where they are now in the course of the motion, metres. */
  readonly rise: number;
  readonly follows: boolean;
}

/** The stage of one character: panes, figures, what the pointer does, and the two passes that draw; only when something changed. */
export class StageView {
  private readonly lease: RendererLease | null;
  private readonly meshPass = new MeshPass();
  private readonly overlay = new OverlayPass();
  private readonly bearing = new BearingDrag(this.overlay);
  private readonly input: StageInput;
  private readonly observer: ResizeObserver;
  private theme: StageTheme | null = null;
  private panes: Pane[] = [];
  private readonly figures = new FigureSet();
  private extent: readonly Vec3[] = [];
  private height: StageHeight = { metres: 1.8, floor: 0 };
  private focus: readonly number[] | null = null;
  private played: PlayedFrame | null = null;
  /** Who stands beside the character, and where. */
  private company = '';
  /** Whether the mesh must be drawn anew in the next frame. */
  private isMeshStale = true;
  private needsFit = true;
  /** Once a person has moved a camera, a new pose no longer moves it for them. */
  private isMovedByHand = false;
  private readonly place: number[] = [0, 0];
  /** Degrees of the handle that is dragged, before they are held to steps. */
  private turned: number | null = null;

  constructor(
    private readonly container: HTMLElement,
    private readonly callbacks: StageCallbacks,
  ) {
    this.lease = leaseRenderer(container, () => this.resize());
    this.meshPass.figures.add(this.figures.group);
    container.append(this.overlay.canvas);
    this.input = new StageInput(this.overlay.canvas, {
      paneAt: (x, y) =>
        this.panes.find(
          ({ rect }) => x >= rect.x && x < rect.x + rect.width && y >= rect.y && y < rect.y + rect.height,
        ) ?? null,
      isOnKnob: (spot) => this.knobAt(spot) !== null || this.isOnBearing(spot),
      onHover: (spot) => this.hover(spot),
      onPick: (spot, isMore) => this.pick(spot, isMore),
      onKnob: (spot, phase, isFree) => {
        const isPoint = this.bearing.isHeld || (phase === 'take' && this.knobAt(spot) === null);
        if (isPoint) this.dragBearing(spot, phase);
        else this.turnKnob(spot, phase, isFree);
      },
      onPan: (pane, dx, dy) => this.moveCamera(pane, panCamera(pane.camera, dx, dy, pane.rect.height)),
      onOrbit: (pane, dx, dy) =>
        this.moveCamera(pane, {
          ...pane.camera,
          yawRad: pane.camera.yawRad - dx * 0.008,
          pitchRad: Math.max(-1.5, Math.min(1.5, pane.camera.pitchRad + dy * 0.008)),
        }),
      onZoom: (pane, factor) =>
        this.moveCamera(pane, {
          ...pane.camera,
          halfHeight: Math.max(
            this.height.metres / 100,
            Math.min(this.height.metres * 25, pane.camera.halfHeight * factor),
          ),
        }),
    });
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(container);
    window.addEventListener('yarvo-theme', this.onTheme);
  }

  dispose(): void {
    this.observer.disconnect();
    window.removeEventListener('yarvo-theme', this.onTheme);
    this.figures.dispose();
    this.meshPass.dispose();
    this.lease?.release();
    this.container.replaceChildren();
    // Last of all: what was taken away above asked for a frame, which would put the floor on the graphics card again.
    frameClock.cancel(this.draw);
  }

  setModel(model: StageModel, rig: Rig): void {
    this.figures.setModel(model, rig);
    this.request();
  }

  setNormalisation(normalisation: Normalisation): void {
    this.height = { metres: normalisation.heightMetres, floor: normalisation.floorMetres };
    this.meshPass.setHeight(this.height);
    this.figures.setNormalisation(normalisation);
    this.request();
  }

  setPose(pose: RigPose): void {
    this.figures.setPose(pose);
    this.request();
  }

  setGuests(guests: readonly StageGuest[]): void {
    this.figures.setGuests(guests);
    this.request();
  }

  setGhosts(ghosts: readonly StageGhost[]): void {
    this.figures.setGhosts(ghosts);
    this.request();
  }

  /**
   * Shows a frame of a motion: the mesh, the joints and what moves along. Cameras follow the hips where they are asked to.
   * null: back to the pose.
   */
  play(frame: PlayedFrame | null): void {
    const before = this.played;
    this.played = frame;
    this.figures.play(frame);
    if (!frame) {
      this.meshPass.follow(0, 0);
      return;
    }
    const { state } = this.overlay;
    const companions = state.companions.map((companion, at) => ({
      ...companion,
      points: frame.companions[at] ?? companion.points,
    }));
    const capsule = state.capsule && { ...state.capsule, now: frame.capsule };
    this.overlay.set({ ...state, points: frame.points, companions, capsule, bearing: frame.bearing });
    this.overlay.canvas.dataset.joints = sumText(frame.points);
    // A motion may start far from where the posture stands.
    if (!before && !this.isMovedByHand) this.needsFit = true;
    if (before && frame.follows) this.follow(before.hips, frame.hips);
    if (frame.follows) this.meshPass.follow(frame.hips[0], frame.hips[2]);
    if (this.needsFit && companions.every(({ points }) => points.length > 0)) this.fit();
    this.request();
  }

  /** Bends the mesh by some morph targets: name -> weight. */
  showMorphs(weights: ReadonlyMap<string, number>): void {
    this.figures.showMorphs(weights);
    this.request();
  }

  /** Whoever comes to stand beside the character, or moves aside, must be seen; unless a person moved the camera. */
  private fitToCompany({ companions }: OverlayState): void {
    const places = companions.map(({ offset, label }) => `${label} ${offset.join()}`).join(';');
    if (places === this.company) return;
    this.company = places;
    if (this.isMovedByHand) return;
    this.needsFit = true;
    if (companions.every(({ points }) => points.length > 0)) this.fit();
  }

  /** Moves the cameras along with the hips; a view of the floor along it, a flat one sideways only. */
  private follow(from: Vec3, to: Vec3): void {
    const step: Vec3 = [to[0] - from[0], 0, to[2] - from[2]];
    for (const pane of this.panes) {
      const { target } = pane.camera;
      const camera = { ...pane.camera, target: [target[0] + step[0], target[1], target[2] + step[2]] as Vec3 };
      pane.set(camera, pane.rect, this.height);
    }
  }

  setState(given: OverlayState): void {
    const { played } = this;
    // While a motion plays it says where the joints are; the page only knows the posture.
    const next = played
      ? {
          ...given,
          points: played.points,
          bearing: played.bearing,
          capsule: given.capsule && { ...given.capsule, now: played.capsule },
          companions: given.companions.map((each, at) => ({ ...each, points: played.companions[at] ?? each.points })),
        }
      : given;
    const known = this.overlay.state;
    if ((Object.keys(next) as (keyof OverlayState)[]).every((key) => next[key] === known[key])) return;
    const isNewPose = next.points !== known.points;
    this.overlay.set(next);
    const { bones } = next;
    if (played) {
      this.fitToCompany(next);
      frameClock.request(this.draw);
      return;
    }
    // A camera that follows a drag would move what is dragged away from the pointer.
    const mayFollow = isNewPose && !this.isMovedByHand && !this.input.isDragging && this.leavesAPane();
    if ((this.needsFit || mayFollow) && (bones.length > 0 || this.extent.length > 0)) this.fit();
    frameClock.request(this.draw);
  }

  setMesh(mesh: StageMesh): void {
    this.figures.setMesh(mesh);
    this.request();
  }

  setViews(views: readonly PaneView[]): void {
    const isSame = views.length === this.panes.length && views.every((view, at) => this.panes[at].view === view);
    if (isSame) return;
    this.panes = views.map((view) => new Pane(view));
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
    const points = this.pointsToFit();
    for (const pane of this.panes)
      pane.set(fitCamera(pane.camera, points, pane.rect.width, pane.rect.height), pane.rect, this.height);
    // Whoever is on the way is fitted in when there.
    this.needsFit =
      this.container.clientWidth === 0 || this.overlay.state.companions.some(({ points }) => points.length === 0);
    this.request();
  }

  /** Whether a joint lies outside what a pane shows. */
  private leavesAPane(): boolean {
    const { points } = this.overlay.state;
    const { place } = this;
    return this.panes.some(({ rect, projectInto }) => {
      for (let at = 0; at < points.length; at += 3) {
        projectInto(points[at], points[at + 1], points[at + 2], place, 0);
        const isInside =
          place[0] >= EDGE_PIXELS &&
          place[0] <= rect.width - EDGE_PIXELS &&
          place[1] >= EDGE_PIXELS &&
          place[1] <= rect.height - EDGE_PIXELS;
        if (!isInside) return true;
      }
      return false;
    });
  }

  private pointsToFit(): Vec3[] {
    const { points } = this.overlay.state;
    const at = (bone: number): Vec3 => [points[bone * 3], points[bone * 3 + 1], points[bone * 3 + 2]];
    const count = points.length / 3;
    const reach = CLOSE_UP_SHARE * this.height.metres;
    const near = (this.focus ?? []).filter((bone) => bone < count).flatMap((bone) => around(at(bone), reach));
    if (near.length > 0) return near;
    const { floor, metres } = this.height;
    return [
      ...Array.from({ length: count }, (_, bone) => at(bone)),
      ...(this.played ? [] : this.extent),
      ...this.companionPoints(),
      ...this.standingRoom(floor, metres),
    ];
  }

  /** Crown and floor of the figure; while a motion plays, where it is and as high as it will go. */
  private standingRoom(floor: number, metres: number): Vec3[] {
    const [x, , z] = this.played?.hips ?? [0, 0, 0];
    return [
      [x, floor + metres + Math.max(0, this.played?.rise ?? 0), z],
      [x, floor, z],
    ];
  }

  /** Where companions stand, so that a fit shows them too. */
  private companionPoints(): Vec3[] {
    return this.overlay.state.companions.flatMap(({ points, offset }) =>
      Array.from({ length: points.length / 3 }, (_, joint): Vec3 => [
        points[joint * 3] + offset[0],
        points[joint * 3 + 1] + offset[1],
        points[joint * 3 + 2] + offset[2],
      ]),
    );
  }

  private moveCamera(pane: Pane, camera: PaneCamera): void {
    this.isMovedByHand = true;
    pane.set(camera, pane.rect, this.height);
    this.request();
  }

  private readonly request = (): void => {
    this.isMeshStale = true;
    frameClock.request(this.draw);
  };

  private resize(): void {
    const { clientWidth: width, clientHeight: height } = this.container;
    if (width === 0 || height === 0 || this.panes.length === 0) return;
    const ratio = pixelRatio();
    this.lease?.renderer.setPixelRatio(ratio);
    this.lease?.renderer.setSize(width, height);
    this.overlay.resize(width, height, ratio);
    const columns = this.panes.length > 1 ? 2 : 1;
    const rows = Math.ceil(this.panes.length / columns);
    this.panes.forEach((pane, at) => {
      const [w, h] = [width / columns, height / rows];
      pane.set(
        pane.camera,
        { x: (at % columns) * w, y: Math.floor(at / columns) * h, width: w, height: h },
        this.height,
      );
    });
    this.fit();
  }

  /** Draws one frame: the mesh only where it changed, since a selection only marks bones. */
  private readonly draw = (): void => {
    if (!this.theme) {
      this.theme = readTheme(this.container);
      this.meshPass.setTheme(this.theme);
      this.figures.setTheme(this.theme);
    }
    const renderer = this.lease?.renderer ?? null;
    if (renderer && this.isMeshStale) {
      this.meshPass.draw(renderer, this.panes, this.container.clientHeight, this.theme);
      const { geometries, textures } = renderer.info.memory;
      this.overlay.canvas.dataset.held = `${geometries} meshes, ${textures} textures`;
    }
    this.isMeshStale = false;
    this.overlay.draw(this.panes, this.height, pixelRatio(), renderer === null, this.theme);
  };

  private readonly onTheme = (): void => {
    this.theme = null;
    this.overlay.forgetLooks();
    this.request();
  };

  private hover(spot: PaneSpot | null): void {
    const { bones, hovered } = this.overlay.state;
    const bone = spot && pickBone(bones, spot.pane.places, spot.x, spot.y);
    this.overlay.canvas.style.cursor = bone === null ? 'default' : 'pointer';
    if (bone !== hovered) this.callbacks.onHover(bone);
  }

  private pick({ pane, x, y }: PaneSpot, isMore: boolean): void {
    const tied = pickTied(pane.places, x, y);
    if (tied.length > 1) this.callbacks.onPickTied(tied, pane.rect.x + x, pane.rect.y + y);
    else this.callbacks.onPick(pickBone(this.overlay.state.bones, pane.places, x, y), isMore);
  }

  private knobAt({ pane, x, y }: PaneSpot) {
    const handle = this.overlay.state.handles.get(pane.view);
    const screen = handle && handleOnScreen(handle, pane);
    return handle && screen && isOnKnob(screen, handle.degrees, x, y) ? screen : null;
  }

  private isOnBearing(spot: PaneSpot): boolean {
    return this.callbacks.onBearing() !== null && this.bearing.pointAt(spot) !== null;
  }

  private dragBearing(spot: PaneSpot, phase: 'take' | 'move' | 'drop'): void {
    if (phase === 'take') this.bearing.take(spot);
    const moved = this.bearing.move(spot);
    if (phase === 'drop') {
      this.bearing.drop();
      if (moved && Math.hypot(...moved.by) > 1e-4) this.callbacks.onBearing()?.(moved.at, moved.by);
    }
    frameClock.request(this.draw);
  }

  private turnKnob({ pane, x, y }: PaneSpot, phase: 'take' | 'move' | 'drop', isFree: boolean): void {
    const handle = this.overlay.state.handles.get(pane.view);
    const screen = handle && handleOnScreen(handle, pane);
    if (!handle || !screen) return;
    if (phase === 'take') {
      this.turned = handle.degrees;
      this.hover(null);
    }
    this.turned = degreesAt(screen, x, y, this.turned ?? 0);
    const { stepDegrees } = handle;
    const degrees = isFree ? Math.round(this.turned * 10) / 10 : Math.round(this.turned / stepDegrees) * stepDegrees;
    this.callbacks.onTurn(pane.view, degrees, phase === 'drop');
    if (phase === 'drop') this.turned = null;
  }
}

/** One number for where all joints are, for whoever cannot see them. */
function sumText(points: JointPlaces): string {
  let sum = 0;
  for (let at = 0; at < points.length; at++) sum += points[at] * (1 + (at % 7));
  return sum.toFixed(4);
}

/** Nearer to the edge of a pane than this what hangs on a joint would be cut. */
const EDGE_PIXELS = 24;

/** Room about a joint in a close-up, of the figure's height. */
const CLOSE_UP_SHARE = 0.05;
const around = ([x, y, z]: Vec3, by: number): Vec3[] => [-by, by].map((away) => [x + away, y + away, z + away]);

const pixelRatio = (): number => Math.min(window.devicePixelRatio, 2);
