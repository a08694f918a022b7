import type { Vec3 } from '@/core/math/vec3';
import { childNamed, textOf, type FbxNode, type FbxValue } from './fbx-tree';

/** Properties70 of an object, with the defaults of its class behind them. */
export class Properties {
  private readonly own: ReadonlyMap<string, readonly FbxValue[]>;

  constructor(
    node: FbxNode | undefined,
    private readonly template: Properties | null = null,
  ) {
    const own = new Map<string, readonly FbxValue[]>();
    for (const entry of childNamed(node, 'Properties70')?.children ?? []) {
      if (entry.name === 'P') own.set(textOf(entry.values[0]), entry.values.slice(4));
    }
    this.own = own;
  }

  private values(name: string): readonly FbxValue[] | undefined {
    return this.own.get(name) ?? this.template?.values(name);
  }

  has(name: string): boolean {
    return this.own.has(name);
  }

  number(name: string, fallback: number): number {
    const value = Number(this.values(name)?.[0] ?? NaN);
    return Number.isFinite(value) ? value : fallback;
  }

  vector(name: string, fallback: Vec3): Vec3 {
    const values = this.values(name)?.slice(0, 3).map(Number);
    return values?.length === 3 && values.every(Number.isFinite) ? (values as unknown as Vec3) : fallback;
  }
}
