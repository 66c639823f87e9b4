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
