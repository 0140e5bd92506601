/**
 * Where the pieces of new content end. As many bytes as before are cut as they were; more or fewer are shared out in the
 * proportion of the old pieces, in whole units, and the last takes the rest.
 */
export function shareOut(pieces: readonly number[], length: number, unit: number): number[] {
  const total = pieces.reduce((sum, piece) => sum + piece, 0);
  let behind = 0;
  let from = 0;
  return pieces.map((piece, i) => {
    behind += piece;
    const share = (behind / Math.max(1, total)) * length;
    const whole = length === total ? behind : Math.round(share / unit) * unit;
    from = i === pieces.length - 1 ? length : Math.max(from, Math.min(whole, length));
    return from;
  });
}
