import { DOMParser, ParseError, type Element as XmlElement, type Node as XmlNode } from '@xmldom/xmldom';
import { YarvoError } from '@/core/errors/yarvo-error';

export type Xml = XmlElement;

/** @throws {YarvoError} for text that is not well-formed, or that declares entities. */
export function parseXml(text: string, place: string): Xml {
  // Entities could multiply a small file into a huge one or point outside; no exporter writes them.
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new YarvoError({
      code: 'xml-entities',
      message: 'The file declares a document type or entities, which are not read.',
      place,
      remedy: 'Remove the DOCTYPE line and drop the file again.',
    });
  let root: Xml | null = null;
  try {
    root = new DOMParser({
      onError: (level, message) => {
        if (level !== 'warning') throw new Error(message);
      },
    }).parseFromString(text, 'text/xml').documentElement;
  } catch (error) {
    const line = error instanceof ParseError ? error.locator?.lineNumber : undefined;
    throw new YarvoError({
      code: 'bad-xml',
      message: `The XML cannot be read: ${(error as Error).message.split('\n')[0].slice(0, 200)}.`,
      place: line ? `${place}, line ${line}` : place,
      remedy: 'Export the file again; this part of it is damaged.',
    });
  }
  if (!root)
    throw new YarvoError({
      code: 'bad-xml',
      message: 'The file holds no XML element.',
      place,
      remedy: 'Export the file again.',
    });
  return root;
}

const isElement = (node: XmlNode): node is Xml => node.nodeType === 1;

export function children(element: Xml | null | undefined, name?: string): Xml[] {
  const out: Xml[] = [];
  for (let node = element?.firstChild ?? null; node; node = node.nextSibling) {
    if (isElement(node) && (!name || node.localName === name)) out.push(node);
  }
  return out;
}

export const child = (element: Xml | null | undefined, name: string): Xml | undefined => children(element, name)[0];

/** Follows names downwards: `path(root, 'technique_common', 'accessor')`. */
export function path(element: Xml | null | undefined, ...names: string[]): Xml | undefined {
  return names.reduce<Xml | undefined>((at, name) => child(at, name), element ?? undefined);
}

/** All elements of a name below, in the file's order. */
export function descendants(element: Xml, name: string): Xml[] {
  const out: Xml[] = [];
  const stack = children(element).reverse();
  for (let at = stack.pop(); at; at = stack.pop()) {
    if (at.localName === name) out.push(at);
    stack.push(...children(at).reverse());
  }
  return out;
}

export const text = (element: Xml | null | undefined): string => element?.textContent?.trim() ?? '';
export const attribute = (element: Xml, name: string): string => element.getAttribute(name) ?? '';

export function numbers(element: Xml | null | undefined): Float64Array {
  const content = element?.textContent ?? '';
  const values: number[] = [];
  for (let at = 0; at < content.length;) {
    while (at < content.length && content.charCodeAt(at) <= 32) at++;
    const start = at;
    while (at < content.length && content.charCodeAt(at) > 32) at++;
    if (at > start) values.push(Number(content.slice(start, at)));
  }
  return new Float64Array(values);
}

export const placeOf = (element: Xml, place: string): string => `${place}, line ${element.lineNumber ?? '?'}`;
