import fs from 'node:fs';
import path from 'node:path';
import { writeForm } from '../demo/world/forms/form-writer';
import type { Mesh } from '../demo/world/forms/mesh';

/** A field of hills of so many triangles, in parts that 16 bits count. */
export function hills(triangles: number): Mesh[] {
  const meshes: Mesh[] = [];
  const side = 170;
  const each = 2 * (side - 1) ** 2;
  for (let part = 0; part * each < triangles; part++) {
    const mesh: Mesh = {
      name: `hills_${part}`,
      level: 0,
      material: 0,
      corners: [],
      weights: [],
      triangles: [],
    };
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        mesh.corners.push({
          place: [x / 10, Math.sin(x / 9) * Math.cos(y / 7 + part), y / 10],
          normal: [0, 1, 0],
          at: [x / side, y / side],
        });
        mesh.weights.push([[0, 1]]);
        if (x === 0 || y === 0) continue;
        const at = y * side + x;
        mesh.triangles.push(at - side - 1, at, at - side, at - side - 1, at - 1, at);
      }
    meshes.push(mesh);
  }
  return meshes;
}

/** A folder with one such model, `hills.form`: node --import tsx bench/hills.ts FOLDER TRIANGLES. */
const [folder, triangles] = process.argv.slice(2);
if (process.argv[1]?.endsWith('hills.ts') && folder) {
  fs.mkdirSync(folder, { recursive: true });
  const form = writeForm({
    meshes: hills(Number(triangles ?? 100_000)),
    joints: [],
    paints: [{ name: 'grass' }],
  });
  fs.writeFileSync(path.join(folder, 'hills.form'), form);
}
