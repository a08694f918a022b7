import * as three from 'three';
import { PlaceSet } from './place-set';
import { ruleMarks } from './rule-marks';
import {
  cameraAxes,
  eyeDistance,
  FREE_FIELD_RAD,
  projector,
  projectorInto,
  type PaneCamera,
  type PaneView,
  type ProjectInto,
} from './projection';
import type { Project } from './overlay-types';

export interface PaneRect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** How high a figure stands above the floor, metres. */
export interface StageHeight {
  readonly metres: number;
  readonly floor: number;
}

/**
 * One view of the stage: where it lies, what it looks at, and where it shows the joints. What follows from the camera is
 * worked out when the camera changes, not when it draws.
 */
export class Pane {
  rect: PaneRect = { x: 0, y: 0, width: 1, height: 1 };
  /** Pixels of the joints in this pane, and of those of another pose. */
  readonly places = new PlaceSet();
  readonly before = new PlaceSet();
  /** Pixels of what else is drawn, one after another. */
  readonly other = new PlaceSet();
  readonly lens: three.PerspectiveCamera | three.OrthographicCamera;
  marks: readonly { readonly y: number; readonly text: string }[] = [];
  crownY = 0;
  project: Project = () => null;
  projectInto: ProjectInto = () => undefined;
  private held: PaneCamera;

  constructor(view: PaneView) {
    this.held = { view, target: [0, 0.9, 0], halfHeight: 1, yawRad: 0.55, pitchRad: 0.18 };
    this.lens =
      view === 'free' ? new three.PerspectiveCamera((FREE_FIELD_RAD * 180) / Math.PI) : new three.OrthographicCamera();
  }

  get camera(): PaneCamera {
    return this.held;
  }

  /** On the screen, at what the pane looks at. */
  get pixelsPerMetre(): number {
    return this.rect.height / 2 / this.held.halfHeight;
  }

  get view(): PaneView {
    return this.held.view;
  }

  set(camera: PaneCamera, rect: PaneRect, { metres, floor }: StageHeight): void {
    this.held = camera;
    this.rect = rect;
    this.project = projector(camera, rect.width, rect.height);
    this.projectInto = projectorInto(camera, rect.width, rect.height);
    this.aim(rect.width / rect.height);
    const y = (above: number) => this.project([0, floor + above, 0])?.[1] ?? 0;
    this.marks = ruleMarks(metres, (y(0) - y(metres)) / metres).map((mark) => ({ y: y(mark.metres), text: mark.text }));
    this.crownY = y(metres);
  }

  private aim(aspect: number): void {
    const { lens } = this;
    const { halfHeight, target } = this.held;
    const { up, back } = cameraAxes(this.held);
    const distance = eyeDistance(this.held);
    if (lens instanceof three.PerspectiveCamera) {
      lens.aspect = aspect;
      [lens.near, lens.far] = [distance / 100, distance * 10];
    } else {
      [lens.left, lens.right, lens.top, lens.bottom] = [
        -halfHeight * aspect,
        halfHeight * aspect,
        halfHeight,
        -halfHeight,
      ];
      [lens.near, lens.far] = [distance / 500, distance * 4];
    }
    lens.up.set(up[0], up[1], up[2]);
    lens.position.set(target[0] + back[0] * distance, target[1] + back[1] * distance, target[2] + back[2] * distance);
    lens.lookAt(target[0], target[1], target[2]);
    lens.updateProjectionMatrix();
    lens.updateMatrixWorld();
  }
}
