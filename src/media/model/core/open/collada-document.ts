import { DOMParser, type Document, type Element } from '@xmldom/xmldom';
import { FormatError } from '@/core/bytes';

/** Text of a document that is made a tree; numbers in it take ten times as much. */
const MOST_BYTES = 128 << 20;
/** Nodes of a scene, each as often as others repeat it. */
const MOST_NODES = 100_000;

/** A COLLADA document without its pictures, which nobody fetches, and the paths that its materials name. */
export interface ColladaDocument {
  readonly document: Document;
  /** By the names of materials: the picture of their colour. */
  readonly pictures: ReadonlyMap<string, string>;
}

/** Parses a COLLADA document (Khronos, 1.4 and 1.5). Throws FormatError where it is none, or repeats nodes without end. */
export function readColladaDocument(bytes: Uint8Array): ColladaDocument {
  if (bytes.length > MOST_BYTES)
    throw new FormatError('budget', {
      ...{ expected: `at most ${MOST_BYTES >> 20} MiB of text`, actual: `${bytes.length >> 20} MiB` },
      remedy: 'Save it as GLB, which takes a fifth of the room',
    });
  const document = new DOMParser({
    onError(level, message) {
      if (level !== 'warning')
        throw new FormatError('bad-value', { expected: 'a COLLADA document', why: message.slice(0, 300) });
    },
  }).parseFromString(new TextDecoder().decode(bytes), 'text/xml');
  const root = document.documentElement;
  if (root?.localName !== 'COLLADA')
    throw new FormatError('not-recognised', {
      ...{ expected: 'a COLLADA document', actual: root ? `<${root.tagName.slice(0, 60)}>` : 'nothing' },
    });
  // It bears the name of the root, which the loader would take it for.
  if (document.doctype) document.removeChild(document.doctype);
  refuseEndless(root);
  const pictures = picturesOf(root);
  for (const texture of all(root, 'texture')) texture.parentNode?.removeChild(texture);
  leaveOutUntold(root);
  return { document, pictures };
}

/** Movements whose times or values are nowhere, as some programs write them, are left out rather than all of it refused. */
function leaveOutUntold(root: Element): void {
  const known = new Map(
    ['source', 'sampler']
      .flatMap((name) => all(root, name))
      .map((one) => [`#${one.getAttribute('id')}`, one]),
  );
  for (const channel of all(root, 'channel')) {
    const sampler = known.get(channel.getAttribute('source') ?? '');
    const inputs = sampler ? all(sampler, 'input') : [];
    const has = (semantic: string): boolean =>
      inputs.some(
        (input) =>
          input.getAttribute('semantic') === semantic && known.has(input.getAttribute('source') ?? ''),
      );
    if (!has('INPUT') || !has('OUTPUT')) channel.parentNode?.removeChild(channel);
  }
}

const all = (from: Element, name: string): Element[] => Array.from(from.getElementsByTagName(name));
const childOf = (from: Element | undefined, name: string): Element | undefined => from && all(from, name)[0];
const referred = (element: Element): string => (element.getAttribute('url') ?? '').replace(/^#/, '');

/** Nodes may stand in others by reference: how many that makes is counted before any is made. */
function refuseEndless(root: Element): void {
  const byId = new Map(all(root, 'node').map((node) => [node.getAttribute('id') ?? '', node]));
  const known = new Map<Element, number>();
  const under = new Set<Element>();
  const count = (node: Element): number => {
    const before = known.get(node);
    if (before !== undefined) return before;
    if (under.has(node)) throw endless(node, 'itself');
    under.add(node);
    let sum = 1;
    for (let child = node.firstChild; child; child = child.nextSibling) {
      if (child.nodeType !== 1) continue;
      const element = child as Element;
      if (element.localName === 'node') sum += count(element);
      const other = element.localName === 'instance_node' ? byId.get(referred(element)) : undefined;
      if (other) sum += count(other);
      if (sum > MOST_NODES) throw endless(node, `more than ${MOST_NODES} nodes`);
    }
    under.delete(node);
    known.set(node, sum);
    return sum;
  };
  let together = 0;
  for (const scene of all(root, 'visual_scene')) {
    together += count(scene);
    if (together > MOST_NODES) throw endless(scene, `more than ${MOST_NODES} nodes`);
  }
}

const endless = (node: Element, actual: string): FormatError =>
  new FormatError('bad-value', {
    fieldPath: `node ${(node.getAttribute('id') ?? '').slice(0, 100)}`,
    expected: 'nodes that stand in others a bounded number of times',
    actual,
  });

/** What a material's colour is painted with: by its effect's sampler, the surface of that, and the image of this. */
function picturesOf(root: Element): ReadonlyMap<string, string> {
  const byId = new Map(
    ['image', 'effect'].flatMap((name) => all(root, name)).map((one) => [one.getAttribute('id') ?? '', one]),
  );
  const found = new Map<string, string>();
  for (const material of all(root, 'material')) {
    const instance = childOf(material, 'instance_effect');
    const effect = instance && byId.get(referred(instance));
    const texture = childOf(childOf(effect, 'diffuse'), 'texture')?.getAttribute('texture');
    if (!effect || !texture) continue;
    const params = new Map(all(effect, 'newparam').map((one) => [one.getAttribute('sid') ?? '', one]));
    const surface = childOf(params.get(texture), 'source')?.textContent?.trim() ?? '';
    const image = childOf(params.get(surface), 'init_from')?.textContent?.trim() ?? texture;
    const path = childOf(byId.get(image), 'init_from')?.textContent?.trim();
    if (path) found.set(material.getAttribute('name') ?? '', path.replace(/^(?:file:\/+)?(?:\.\/)?/, ''));
  }
  return found;
}
