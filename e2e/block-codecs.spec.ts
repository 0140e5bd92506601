import { expect, test } from '@playwright/test';
import { decodeBlocks, type BlockCodec } from '../src/media/picture/core/texture/kernel';
import { fromHalf } from '../src/core/bytes';

/** Block codecs held against the decoder of the browser's graphics, block by block, with every mode among them. */
const SIDE = 128;

function blocksOf(codec: BlockCodec): Uint8Array {
  const bytes = [1, 4, 14].includes(codec) ? 8 : 16;
  let state = codec + 1;
  const blocks = Uint8Array.from(
    { length: (SIDE / 4) ** 2 * bytes },
    () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 24,
  );
  if (codec === 7)
    for (let i = 0; i < blocks.length; i += 16) {
      const mode = (i / 16) % 8;
      blocks[i] = (blocks[i]! & ~((2 << mode) - 1)) | (1 << mode);
    }
  return blocks;
}

const CASES: readonly [
  name: string,
  codec: BlockCodec,
  extension: string,
  format: string,
  channels: number,
][] = [
  ['BC1', 1, 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT1_EXT', 4],
  ['BC2', 2, 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT3_EXT', 4],
  ['BC3', 3, 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT5_EXT', 4],
  ['BC4', 4, 'EXT_texture_compression_rgtc', 'COMPRESSED_RED_RGTC1_EXT', 1],
  ['BC4, signed', 14, 'EXT_texture_compression_rgtc', 'COMPRESSED_SIGNED_RED_RGTC1_EXT', 1],
  ['BC5', 5, 'EXT_texture_compression_rgtc', 'COMPRESSED_RED_GREEN_RGTC2_EXT', 2],
  ['BC5, signed', 15, 'EXT_texture_compression_rgtc', 'COMPRESSED_SIGNED_RED_GREEN_RGTC2_EXT', 2],
  ['BC6H', 6, 'EXT_texture_compression_bptc', 'COMPRESSED_RGB_BPTC_UNSIGNED_FLOAT_EXT', 3],
  ['BC6H, signed', 16, 'EXT_texture_compression_bptc', 'COMPRESSED_RGB_BPTC_SIGNED_FLOAT_EXT', 3],
  ['BC7', 7, 'EXT_texture_compression_bptc', 'COMPRESSED_RGBA_BPTC_UNORM_EXT', 4],
];

test('every block codec decodes as the graphics of the browser do', async ({ page }) => {
  for (const [name, codec, extension, format, channels] of CASES) {
    const blocks = blocksOf(codec);
    const theirs = await page.evaluate(
      ({ side, extension: wanted, format: by, bytes }) => {
        const gl = new OffscreenCanvas(side, side).getContext('webgl2')!;
        gl.getExtension('EXT_color_buffer_float');
        const compressed = gl.getExtension(wanted) as Record<string, number> | null;
        if (!compressed) throw new Error(`no ${wanted}`);
        const shader = (type: number, text: string): WebGLShader => {
          const made = gl.createShader(type)!;
          gl.shaderSource(made, `#version 300 es\nprecision highp float;\n${text}`);
          gl.compileShader(made);
          return made;
        };
        const program = gl.createProgram();
        const corner = 'void main(){gl_Position=vec4(vec2(gl_VertexID&1,gl_VertexID>>1)*4.-1.,0,1);}';
        const fetched =
          'uniform sampler2D t;out vec4 o;void main(){o=texelFetch(t,ivec2(gl_FragCoord.xy),0);}';
        gl.attachShader(program, shader(gl.VERTEX_SHADER, corner));
        gl.attachShader(program, shader(gl.FRAGMENT_SHADER, fetched));
        gl.linkProgram(program);
        gl.useProgram(program);
        const target = gl.createTexture();
        gl.bindTexture(gl.TEXTURE_2D, target);
        gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, side, side);
        gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
        gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
        gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
        const data = Uint8Array.from(atob(bytes), (sign) => sign.charCodeAt(0));
        gl.compressedTexImage2D(gl.TEXTURE_2D, 0, compressed[by]!, side, side, 0, data);
        gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
        gl.viewport(0, 0, side, side);
        gl.drawArrays(gl.TRIANGLES, 0, 3);
        const out = new Float32Array(side * side * 4);
        gl.readPixels(0, 0, side, side, gl.RGBA, gl.FLOAT, out);
        return { texels: Array.from(out), error: gl.getError() };
      },
      { side: SIDE, extension, format, bytes: Buffer.from(blocks).toString('base64') },
    );
    expect(theirs.error, name).toBe(0);
    const ours = decodeBlocks(codec, blocks, SIDE, SIDE);
    const view = new DataView(ours.buffer);
    const isFloat = codec === 6 || codec === 16;
    const isSigned = codec === 14 || codec === 15;
    let worst = 0;
    for (let i = 0; i < SIDE * SIDE; i++)
      for (let c = 0; c < channels; c++) {
        const given = theirs.texels[4 * i + c]!;
        const far = isFloat
          ? Math.abs(fromHalf(view.getUint16(8 * i + 2 * c, true)) - given)
          : Math.abs(ours[4 * i + c]! - (isSigned ? ((Math.max(-1, given) + 1) * 255) / 2 : given * 255));
        worst = Math.max(worst, far);
      }
    // BC6H and BC7 are exact by their standard; of the others decoders may round the steps between the ends.
    expect(worst, name).toBeLessThanOrEqual(isFloat || codec === 7 ? 1e-4 : isSigned ? 1.5 : 1.01);
  }
});
