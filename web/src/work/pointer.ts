/** JSON pointers (RFC 6901) into plain values. */

export function parts(pointer: string): string[] {
  return pointer
    .split("/")
    .slice(1)
    .map((part) => part.replaceAll("~1", "/").replaceAll("~0", "~"));
}

export function read(document: unknown, pointer: string): unknown {
  let node = document as Record<string, unknown> | undefined;
  for (const part of parts(pointer)) node = node?.[part] as Record<string, unknown> | undefined;
  return node;
}

/** A copy of the document with another value at the pointer; everything beside the way there is shared. */
export function write<Document>(document: Document, pointer: string, value: unknown): Document {
  const way = parts(pointer);
  function at(node: unknown, depth: number): unknown {
    if (depth === way.length) return value;
    const key = way[depth] as string;
    if (Array.isArray(node)) return node.map((entry, index) => (String(index) === key ? at(entry, depth + 1) : entry));
    const record = node as Record<string, unknown>;
    return { ...record, [key]: at(record?.[key], depth + 1) };
  }
  return at(document, 0) as Document;
}

type Keys = Record<string, string>;

/** A pointer with the entries of keyed lists by their key: it stays with a tool when the list changes. */
export function keyed(document: unknown, pointer: string, keys: Keys): string {
  let node = document as Record<string, unknown> | undefined;
  let name = "";
  let way = "";
  for (const part of parts(pointer)) {
    const inside = node?.[part] as Record<string, unknown> | undefined;
    const key = Array.isArray(node) ? keys[name] : undefined;
    way += `/${escaped(key && inside ? String(inside[key]) : part)}`;
    name = part;
    node = inside;
  }
  return way;
}

/** The pointer that `keyed` made a key of, in the document as it is now; null where its entry has gone. */
export function located(document: unknown, key: string, keys: Keys): string | null {
  let node = document as Record<string, unknown> | undefined;
  let name = "";
  let way = "";
  for (const part of parts(key)) {
    const field = Array.isArray(node) ? keys[name] : undefined;
    let at = part;
    if (field) {
      const index = (node as unknown as Record<string, unknown>[]).findIndex((entry) => String(entry[field]) === part);
      if (index < 0) return null;
      at = String(index);
    }
    way += `/${escaped(at)}`;
    name = part;
    node = node?.[at] as Record<string, unknown> | undefined;
  }
  return way;
}

function escaped(part: string): string {
  return part.replaceAll("~", "~0").replaceAll("/", "~1");
}
