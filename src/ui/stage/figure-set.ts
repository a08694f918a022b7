import * as three from 'three';
import type { Normalisation } from '@/core/frame/normalise';
import type { Vec3 } from '@/core/math/vec3';
import { REST_POSE, type RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { Figure, type FigureFrame, type StageMesh } from './figure';
import type { StageModel } from './load-model';
import type { StageTheme } from './stage-theme';

/** A pose shown as a pale copy of the character. */
export interface StageGhost {
  readonly pose: RigPose;
  readonly tint: 'before' | 'reference';
}

/** Another character on the stage, with its mesh. */
export interface StageGuest {
  readonly model: StageModel;
  readonly rig: Rig;
  readonly normalisation: Normalisation;
  readonly pose: RigPose;
  /** How far it stands aside, metres. */
  readonly offset: Vec3;
}

/** Frames of a motion for the character and its guests, in their order. */
export interface FigureSetFrame extends FigureFrame {
  readonly guests: readonly FigureFrame[];
}

/** A ghost has the colour of what it shows: quiet for what was, the accent for what is aimed at. */
const TINTS: Readonly<Record<StageGhost['tint'], 'quiet' | 'accent'>> = { before: 'quiet', reference: 'accent' };

/** The meshes on the stage: the character, its ghosts, and other characters beside it. */
export class FigureSet {
  readonly group = new three.Group();
  private model: { readonly model: StageModel; readonly rig: Rig } | null = null;
  private figure: Figure | null = null;
  private ghosts: { readonly figure: Figure; readonly tint: StageGhost['tint'] }[] = [];
  private guests: { readonly figure: Figure; readonly pose: RigPose }[] = [];
  private normalisation: Normalisation | null = null;
  private mesh: StageMesh = 'see-through';
  private pose: RigPose = REST_POSE;
  private played: FigureSetFrame | null = null;
  private theme: StageTheme | null = null;

  setModel(model: StageModel, rig: Rig): void {
    this.setGhosts([]);
    this.figure?.dispose();
    this.model = { model, rig };
    this.figure = this.addFigure(false);
    this.figure.setMesh(this.mesh);
    this.figure.setPose(this.pose);
    if (this.played) this.figure.setFrame(this.played);
  }

  setNormalisation(normalisation: Normalisation): void {
    this.normalisation = normalisation;
    for (const figure of [this.figure, ...this.ghosts.map((ghost) => ghost.figure)])
      figure?.setNormalisation(normalisation);
  }

  setPose(pose: RigPose): void {
    this.pose = pose;
    this.figure?.setPose(pose);
    if (this.played) this.figure?.setFrame(this.played);
  }

  /** Copies are made when their number changes, and only posed otherwise. */
  setGhosts(ghosts: readonly StageGhost[]): void {
    const isSame =
      ghosts.length === this.ghosts.length && ghosts.every(({ tint }, at) => tint === this.ghosts[at].tint);
    if (!isSame) {
      for (const { figure } of this.ghosts) figure.dispose();
      this.ghosts = this.model ? ghosts.map(({ tint }) => ({ figure: this.addFigure(true), tint })) : [];
      this.tintGhosts();
    }
    this.ghosts.forEach(({ figure }, at) => figure.setPose(ghosts[at].pose));
  }

  /** Other characters beside this one; their models belong to whoever loaded them. */
  setGuests(guests: readonly StageGuest[]): void {
    for (const { figure } of this.guests) figure.dispose();
    this.guests = guests.map(({ model, rig, normalisation, pose, offset }) => {
      const figure = new Figure(model, rig, false);
      figure.setNormalisation(normalisation);
      figure.setAside(offset);
      figure.setPose(pose);
      figure.setMesh(this.mesh);
      this.group.add(figure.group);
      return { figure, pose };
    });
    this.playGuests(null);
  }

  setMesh(mesh: StageMesh): void {
    this.mesh = mesh;
    this.figure?.setMesh(mesh);
    for (const { figure } of this.guests) figure.setMesh(mesh);
  }

  setTheme(theme: StageTheme): void {
    this.theme = theme;
    this.tintGhosts();
  }

  /** A frame of a motion over the poses; null: back to them. */
  play(frame: FigureSetFrame | null): void {
    const before = this.played;
    this.played = frame;
    // What another motion moved, and this one does not, goes back to where it stands.
    if (frame?.turned.bones !== before?.turned.bones) {
      this.figure?.setPose(this.pose);
      this.figure?.restMorphs();
    }
    if (frame) this.figure?.setFrame(frame);
    this.playGuests(before);
  }

  /** Weights of morph targets of the character, by name, until a motion has some. */
  showMorphs(weights: ReadonlyMap<string, number>): void {
    const names = [...weights.keys()];
    this.figure?.restMorphs();
    this.figure?.setMorphs({ names, values: Float32Array.from(weights.values()), at: 0 });
  }

  dispose(): void {
    this.setGhosts([]);
    this.setGuests([]);
    this.figure?.dispose();
  }

  private playGuests(before: FigureSetFrame | null): void {
    this.guests.forEach(({ figure, pose }, at) => {
      const frame = this.played?.guests[at];
      if (frame?.turned.bones !== before?.guests[at]?.turned.bones) figure.setPose(pose);
      if (frame) figure.setFrame(frame);
    });
  }

  private addFigure(isGhost: boolean): Figure {
    const { model, rig } = this.model as { model: StageModel; rig: Rig };
    const figure = new Figure(model, rig, isGhost);
    if (this.normalisation) figure.setNormalisation(this.normalisation);
    this.group.add(figure.group);
    return figure;
  }

  private tintGhosts(): void {
    if (this.theme) for (const { figure, tint } of this.ghosts) figure.setTint(this.theme[TINTS[tint]]);
  }
}
