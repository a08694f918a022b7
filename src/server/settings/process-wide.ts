/**
 * What the whole process shares under a name; made when it is first asked for. Kept on the global scope, since the
 * framework may load a module twice.
 */
export function processWide<Value>(name: string, make: () => Value): Value {
  const shared = globalThis as { yarvoShared?: Map<string, unknown> };
  const values = (shared.yarvoShared ??= new Map());
  if (!values.has(name)) values.set(name, make());
  return values.get(name) as Value;
}
