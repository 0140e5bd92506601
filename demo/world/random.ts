/** A small seeded generator (mulberry32): the same name gives the same world on every machine. */
export function seeded(name: string): () => number {
  let state = 2166136261;
  for (const sign of name) state = Math.imul(state ^ sign.charCodeAt(0), 16777619);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
