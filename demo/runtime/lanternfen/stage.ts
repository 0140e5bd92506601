import type { Picture } from '../common/picture';
import type { FormBone, LoadedForm, Pose, Spot, Turn } from './form';

/** Draws forms into pictures, as a screen would show them. */
const SIDE = 288;

const product = ([a, b, c, d]: Turn, [e, f, g, h]: Turn): Turn => [
  d * e + a * h + b * g - c * f,
  d * f - a * g + b * h + c * e,
  d * g + a * f - b * e + c * h,
  d * h - a * e - b * f - c * g,
];
const back = ([a, b, c, d]: Turn): Turn => [-a, -b, -c, d];
function turned([a, b, c, d]: Turn, [x, y, z]: Spot): Spot {
  const [i, j, k] = [d * x + b * z - c * y, d * y + c * x - a * z, d * z + a * y - b * x];
  const l = -a * x - b * y - c * z;
  return [i * d - l * a - j * c + k * b, j * d - l * b - k * a + i * c, k * d - l * c - i * b + j * a];
}

interface Stand {
  at: Spot;
  turn: Turn;
}

function stands(bones: readonly FormBone[], pose: Pose | undefined): Stand[] {
  const all: Stand[] = [];
  for (const bone of bones) {
    const own = pose?.get(bone.name);
    const [place, turn] = [own?.place ?? bone.place, own?.turn ?? bone.turn];
    const above = all[bone.parent];
    if (!above) all.push({ at: place, turn });
    else {
      const moved = turned(above.turn, place);
      all.push({
        at: [above.at[0] + moved[0], above.at[1] + moved[1], above.at[2] + moved[2]],
        turn: product(above.turn, turn),
      });
    }
  }
  return all;
}

/** A form from in front and a little from the side; `sheets` are the colours of its paints. z is up, y leads to the eye. */
export function drawForm(form: LoadedForm, sheets: readonly (Picture | undefined)[], pose?: Pose): Picture {
  const [bound, now] = [stands(form.bones, undefined), stands(form.bones, pose)];
  const finest = Math.min(...form.meshes.map(({ level }) => level));
  const shown = form.meshes.filter(({ level }) => level === finest);
  const seen = shown.map((mesh) => {
    const out = new Float64Array(mesh.places.length);
    for (let v = 0; 3 * v < out.length; v++) {
      const at: Spot = [mesh.places[3 * v]!, mesh.places[3 * v + 1]!, mesh.places[3 * v + 2]!];
      const moved = form.bones.length === 0 ? at : skinned(at, mesh.bones, mesh.weights, v, bound, now);
      // Turned about its height, then seen from a little above.
      const [c, s] = [Math.cos(0.65), Math.sin(0.65)];
      const [x, y] = [moved[0] * c + moved[1] * s, moved[1] * c - moved[0] * s];
      out.set([x, moved[2] * 0.97 - y * 0.24, y * 0.97 + moved[2] * 0.24], 3 * v);
    }
    return out;
  });
  const [low, high] = [Infinity, -Infinity].map((start, end) =>
    [0, 1].map((k) =>
      seen.reduce(
        (all, places) =>
          places.reduce(
            (best, value, i) => (i % 3 === k ? (end ? Math.max(best, value) : Math.min(best, value)) : best),
            all,
          ),
        start,
      ),
    ),
  ) as [number[], number[]];
  const scale = (SIDE * 0.9) / Math.max(high[0]! - low[0]!, high[1]! - low[1]!, 1e-6);
  const rgba = Buffer.alloc(SIDE * SIDE * 4);
  const depth = new Float64Array(SIDE * SIDE).fill(-Infinity);
  shown.forEach((mesh, m) => {
    const places = seen[m]!;
    const sheet = sheets[mesh.paint];
    for (let t = 0; t < mesh.corners.length; t += 3) {
      const three = [0, 1, 2].map((k) => mesh.corners[t + k]!) as [number, number, number];
      const points = three.map((v): Spot => [
        SIDE / 2 + (places[3 * v]! - (low[0]! + high[0]!) / 2) * scale,
        SIDE / 2 - (places[3 * v + 1]! - (low[1]! + high[1]!) / 2) * scale,
        places[3 * v + 2]!,
      ]) as [Spot, Spot, Spot];
      fill(
        points,
        three.map((v) => [mesh.spots[2 * v]!, mesh.spots[2 * v + 1]!] as const),
        sheet,
        rgba,
        depth,
      );
    }
  });
  return { width: SIDE, height: SIDE, rgba, layout: 1 };
}

function skinned(
  at: Spot,
  bones: Uint8Array,
  weights: Uint8Array,
  v: number,
  bound: readonly Stand[],
  now: readonly Stand[],
): Spot {
  const out: Spot = [0, 0, 0];
  for (let k = 0; k < 4; k++) {
    const weight = weights[4 * v + k]! / 255;
    if (weight === 0) continue;
    const [from, to] = [bound[bones[4 * v + k]!]!, now[bones[4 * v + k]!]!];
    const own = turned(back(from.turn), [at[0] - from.at[0], at[1] - from.at[1], at[2] - from.at[2]]);
    const moved = turned(to.turn, own);
    for (let i = 0; i < 3; i++) out[i]! += weight * (moved[i]! + to.at[i]!);
  }
  return out;
}

function fill(
  [a, b, c]: readonly [Spot, Spot, Spot],
  spots: readonly (readonly [number, number])[],
  sheet: Picture | undefined,
  rgba: Buffer,
  depth: Float64Array,
): void {
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
  if (Math.abs(area) < 1e-9) return;
  // How much of its front is turned to the light.
  const [u, v] = [
    [b[0] - a[0], b[1] - a[1], b[2] - a[2]],
    [c[0] - a[0], c[1] - a[1], c[2] - a[2]],
  ] as [Spot, Spot];
  const face = Math.abs(area) / (Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], area) || 1);
  const light = 0.45 + 0.55 * face;
  const range = (k: 0 | 1): [number, number] => [
    Math.max(0, Math.floor(Math.min(a[k], b[k], c[k]))),
    Math.min(SIDE - 1, Math.ceil(Math.max(a[k], b[k], c[k]))),
  ];
  const [[left, right], [top, bottom]] = [range(0), range(1)];
  for (let y = top; y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const [px, py] = [x + 0.5, y + 0.5];
      const p = ((b[0] - px) * (c[1] - py) - (c[0] - px) * (b[1] - py)) / area;
      const q = ((c[0] - px) * (a[1] - py) - (a[0] - px) * (c[1] - py)) / area;
      const r = 1 - p - q;
      if (p < 0 || q < 0 || r < 0) continue;
      const z = p * a[2] + q * b[2] + r * c[2];
      const at = y * SIDE + x;
      if (z <= depth[at]!) continue;
      const texel = sheet
        ? texelAt(
            sheet,
            p * spots[0]![0] + q * spots[1]![0] + r * spots[2]![0],
            p * spots[0]![1] + q * spots[1]![1] + r * spots[2]![1],
          )
        : [190, 178, 150, 255];
      if (texel[3]! < 8) continue;
      depth[at] = z;
      rgba.set([texel[0]! * light, texel[1]! * light, texel[2]! * light, 255], 4 * at);
    }
}

function texelAt({ width, height, rgba }: Picture, u: number, v: number): Buffer {
  const x = Math.min(width - 1, Math.max(0, Math.floor(u * width)));
  const y = Math.min(height - 1, Math.max(0, Math.floor(v * height)));
  return rgba.subarray(4 * (y * width + x), 4 * (y * width + x) + 4);
}
