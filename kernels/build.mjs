import { createRequire } from 'node:module';
import fs from 'node:fs';
import path from 'node:path';
import asc from 'assemblyscript/asc';

/** Where the module of a kernel is kept, so that nothing has to be compiled to build the application. */
const KERNELS = {
  texture: 'src/media/picture/core/texture/kernel-bytes.ts',
  keystream: 'src/core/ciphers/keystream-kernel-bytes.ts',
};
const FLAGS = ['--runtime', 'stub', '--noAssert', '-O3', '--converge', '--enable', 'simd'];

/** Compiles a kernel; the answer is the text of the file that holds it. */
export async function compileKernel(name) {
  const root = path.resolve(import.meta.dirname, '..');
  let bytes;
  const { error, stderr } = await asc.main(
    [`kernels/${name}/index.ts`, ...FLAGS, '--baseDir', root, '--outFile', 'kernel.wasm'],
    {
      writeFile: (file, content) => {
        if (file.endsWith('.wasm')) bytes = content;
      },
    },
  );
  if (error) throw new Error(`${error.message}\n${stderr.toString()}`);
  const { version } = createRequire(import.meta.url)('assemblyscript/package.json');
  const lines = Buffer.from(bytes)
    .toString('hex')
    .match(/.{1,116}/g);
  return `/** Compiled from kernels/${name} by \`npm run kernels\` (AssemblyScript ${version}); do not edit. */
export const KERNEL = [
${lines.map((line) => `  '${line}',`).join('\n')}
].join('');
`;
}

if (process.argv[1] === import.meta.filename)
  for (const [name, file] of Object.entries(KERNELS)) fs.writeFileSync(file, await compileKernel(name));
