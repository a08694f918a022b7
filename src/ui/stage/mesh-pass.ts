import * as three from 'three';
import { layFloor, makeFloor, moveFloor } from './floor';
import type { Pane, StageHeight } from './pane';
import type { StageTheme } from './stage-theme';

/** Draws the figures and the floor under them with WebGL, pane by pane. */
export class MeshPass {
  readonly figures = new three.Group();
  private readonly scene = new three.Scene();
  /** Made once: a material that comes and goes has its shader compiled anew each time. */
  private readonly floor = makeFloor();

  constructor() {
    const sun = new three.DirectionalLight(0xfff6e6, 1.6);
    sun.position.set(1.5, 3, 2.5);
    this.scene.add(
      this.floor.flat,
      this.floor.edge,
      this.figures,
      new three.HemisphereLight(0xffffff, 0xb9b2a4, 2.1),
      sun,
    );
    this.scene.matrixWorldAutoUpdate = false;
  }

  setHeight({ metres, floor }: StageHeight): void {
    layFloor(this.floor, metres, floor);
  }

  /** Puts the floor under a figure that travels. */
  follow(x: number, z: number): void {
    moveFloor(this.floor, x, z);
  }

  setTheme(theme: StageTheme): void {
    this.floor.material.color.set(theme.grid);
  }

  draw(renderer: three.WebGLRenderer, panes: readonly Pane[], heightPixels: number, theme: StageTheme): void {
    // Once for all panes: what stands where is the same in each.
    this.scene.updateMatrixWorld();
    renderer.setScissorTest(true);
    renderer.setClearColor(theme.ground);
    for (const { rect, view, lens } of panes) {
      const bottom = heightPixels - rect.y - rect.height;
      renderer.setViewport(rect.x, bottom, rect.width, rect.height);
      renderer.setScissor(rect.x, bottom, rect.width, rect.height);
      renderer.clear();
      const isFlat = view === 'free' || view === 'top';
      this.floor.flat.visible = isFlat;
      this.floor.edge.visible = !isFlat;
      renderer.render(this.scene, lens);
    }
  }

  dispose(): void {
    for (const lines of [this.floor.flat, this.floor.edge]) lines.geometry.dispose();
    this.floor.material.dispose();
  }
}
