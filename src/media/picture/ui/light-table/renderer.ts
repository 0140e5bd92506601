import type { Placement, View } from './view-state';

const VERTEX = `#version 300 es
void main() { gl_Position = vec4(vec2(gl_VertexID & 1, gl_VertexID >> 1) * 4.0 - 1.0, 0, 1); }`;

/**
 * What is not asked for is left out of the program: where the processor draws, each pixel would otherwise go through all of it, chosen
 * or not, which takes ten times as long.
 */
const FRAGMENT = `
precision highp float;
uniform sampler2D now, other;
uniform vec2 size, canvas, at, light;
uniform float zoom, split, gain, level;
uniform int ground;
uniform bool tinted;
uniform vec3 solid, paper, squares;
uniform vec3 masks[4];
out vec4 colour;

vec4 texel(sampler2D from, vec2 spot) {
#if TILED
  vec2 place = mod(spot, size);
#else
  vec2 place = spot;
#endif
#if CLOSE
  return texelFetch(from, ivec2(place), 0);
#else
  return textureLod(from, place / size, level);
#endif
}

vec3 encoded(vec3 light_) {
  return mix(1.055 * pow(max(light_, vec3(0.0)), vec3(1.0 / 2.4)) - 0.055, light_ * 12.92, lessThanEqual(light_, vec3(0.0031308)));
}

vec3 shown(vec4 t, vec2 pixel) {
#if CHANNEL > 0
  float value = t[CHANNEL - 1];
  vec3 hue = CHANNEL == 1 ? vec3(1, 0, 0) : CHANNEL == 2 ? vec3(0, 1, 0) : CHANNEL == 3 ? vec3(0, 0, 1) : vec3(1);
  return tinted ? hue * value : vec3(value);
#elif LIT
  vec2 slope = t.rg * 2.0 - 1.0;
  vec3 normal = normalize(vec3(slope.x, -slope.y, sqrt(max(0.02, 1.0 - dot(slope, slope)))));
  vec3 toLight = normalize(vec3(light, 0.55));
  float bright = max(0.0, dot(normal, toLight));
  float gloss = pow(max(0.0, reflect(-toLight, normal).z), 24.0);
  return vec3(0.08 + 0.72 * bright + 0.35 * gloss);
#elif MASKED
  vec3 sum = masks[0] * t.r + masks[1] * t.g + masks[2] * t.b + masks[3] * t.a;
  return sum / max(1.0, t.r + t.g + t.b + t.a);
#else
#if LINEAR
  vec3 rgb = encoded(t.rgb);
#else
  vec3 rgb = t.rgb;
#endif
  if (ground == 2) return rgb;
  vec2 square = floor(pixel / 8.0);
  vec3 behind = ground == 1 ? solid : mix(paper, squares, mod(square.x + square.y, 2.0));
  return mix(behind, rgb, t.a);
#endif
}

void main() {
  vec2 pixel = vec2(gl_FragCoord.x, canvas.y - gl_FragCoord.y);
  vec2 spot = (pixel - at) / zoom;
#if !TILED
  if (any(lessThan(spot, vec2(0))) || any(greaterThanEqual(spot, size))) { colour = vec4(0); return; }
#endif
  vec4 t = texel(now, spot);
#if COMPARE == 2
  vec4 far = abs(t - texel(other, spot)) * gain;
#if CHANNEL > 0
  vec3 rgb = shown(far, pixel);
#else
  vec3 rgb = max(far.rgb, vec3(far.a));
#endif
#else
#if COMPARE == 1
  float edge = at.x + split * size.x * zoom;
  if (pixel.x < edge) t = texel(other, spot);
#endif
  vec3 rgb = shown(t, pixel);
#if COMPARE == 1
  if (abs(pixel.x - edge) < 1.0) rgb = vec3(0.78, 0.58, 0.17);
#endif
#endif
  colour = vec4(rgb, 1);
}`;

/** What a program is made for. */
interface Variant {
  readonly CHANNEL: number;
  readonly COMPARE: number;
  readonly CLOSE: boolean;
  readonly TILED: boolean;
  readonly LINEAR: boolean;
  readonly LIT: boolean;
  readonly MASKED: boolean;
}

const UNIFORMS = [
  ...['now', 'other', 'size', 'canvas', 'at', 'light', 'zoom', 'level', 'split', 'gain', 'ground'],
  ...['tinted', 'solid', 'paper', 'squares', 'masks'],
] as const;

interface Program {
  readonly program: WebGLProgram;
  readonly places: ReadonlyMap<string, WebGLUniformLocation | null>;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

export interface Frame {
  readonly view: View;
  readonly placement: Placement;
  /** Where the light of a normal map comes from, -1 to 1 in both directions. */
  readonly light: readonly [number, number];
  readonly paper: string;
  readonly squares: string;
}

const CHANNELS: readonly View['channel'][] = ['all', 'red', 'green', 'blue', 'alpha'];

const rgbOf = (hex: string): [number, number, number] => {
  const word = Number.parseInt(hex.slice(1), 16);
  return [(word >> 16) / 255, ((word >> 8) & 255) / 255, (word & 255) / 255];
};

/** Draws texels on a canvas; all that can be chosen on the light table is a uniform or a program, so that a choice costs one draw. */
export class TexelRenderer {
  private readonly gl: WebGL2RenderingContext;
  private readonly programs = new Map<string, Program>();
  private readonly textures: [WebGLTexture, WebGLTexture];
  private size: Size = { width: 1, height: 1 };
  readonly mostSide: number;

  /** Throws where the browser has no WebGL 2. */
  constructor(canvas: HTMLCanvasElement) {
    const gl = canvas.getContext('webgl2', { alpha: true, antialias: false, preserveDrawingBuffer: true });
    if (!gl) throw new Error('This browser draws no WebGL 2, which the light table needs.');
    this.gl = gl;
    this.mostSide = gl.getParameter(gl.MAX_TEXTURE_SIZE) as number;
    this.textures = [gl.createTexture(), gl.createTexture()];
    this.take(0, { width: 1, height: 1 }, new Uint8Array(4));
    this.take(1, { width: 1, height: 1 }, new Uint8Array(4));
  }

  /** The program that does just what is asked for, made when it is first needed. */
  private programFor(variant: Variant): Program {
    const { gl } = this;
    const defines = Object.entries(variant).map(([name, value]) => `#define ${name} ${Number(value)}`);
    const key = defines.join('\n');
    const known = this.programs.get(key);
    if (known) return known;
    const program = gl.createProgram();
    for (const [type, text] of [
      [gl.VERTEX_SHADER, VERTEX],
      [gl.FRAGMENT_SHADER, `#version 300 es\n${key}${FRAGMENT}`],
    ] as const) {
      const shader = gl.createShader(type)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
        throw new Error(gl.getShaderInfoLog(shader) ?? '');
      gl.attachShader(program, shader);
      gl.deleteShader(shader);
    }
    gl.linkProgram(program);
    const made = {
      program,
      places: new Map(UNIFORMS.map((name) => [name, gl.getUniformLocation(program, name)])),
    };
    this.programs.set(key, made);
    return made;
  }

  /** Takes texels as those that are shown (0) or held against them (1). */
  take(slot: 0 | 1, { width, height }: Size, data: Uint8Array): void {
    const { gl } = this;
    gl.activeTexture(slot === 0 ? gl.TEXTURE0 : gl.TEXTURE1);
    gl.bindTexture(gl.TEXTURE_2D, this.textures[slot]);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, width, height, 0, gl.RGBA, gl.UNSIGNED_BYTE, data);
    gl.generateMipmap(gl.TEXTURE_2D);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.LINEAR_MIPMAP_NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
    if (slot === 0) this.size = { width, height };
  }

  draw({ view, placement, light, paper, squares }: Frame): void {
    const { gl } = this;
    const { width, height } = gl.canvas;
    const scale = window.devicePixelRatio;
    const zoom = placement.zoom * scale;
    const channel = CHANNELS.indexOf(view.channel);
    const { program, places } = this.programFor({
      CHANNEL: channel,
      COMPARE: ['off', 'slider', 'difference'].indexOf(view.compare),
      CLOSE: zoom >= 1,
      TILED: view.tiled,
      LINEAR: channel === 0 && view.linear,
      LIT: channel === 0 && view.lit,
      MASKED: channel === 0 && view.masked,
    });
    const at = (name: (typeof UNIFORMS)[number]): WebGLUniformLocation | null => places.get(name)!;
    gl.useProgram(program);
    gl.viewport(0, 0, width, height);
    gl.uniform1i(at('now'), 0);
    gl.uniform1i(at('other'), 1);
    gl.uniform2f(at('size'), this.size.width, this.size.height);
    gl.uniform2f(at('canvas'), width, height);
    gl.uniform2f(at('at'), placement.x * scale, placement.y * scale);
    gl.uniform2f(at('light'), ...light);
    gl.uniform1f(at('zoom'), zoom);
    // The one level that is nearest to what is seen: half the work of two that are mixed.
    gl.uniform1f(at('level'), Math.max(0, Math.round(-Math.log2(zoom))));
    gl.uniform1f(at('split'), view.split);
    gl.uniform1f(at('gain'), view.gain);
    gl.uniform1i(at('ground'), ['checker', 'solid', 'ignored'].indexOf(view.ground));
    gl.uniform1i(at('tinted'), Number(view.tinted));
    gl.uniform3f(at('solid'), ...rgbOf(view.solid));
    gl.uniform3f(at('paper'), ...rgbOf(paper));
    gl.uniform3f(at('squares'), ...rgbOf(squares));
    gl.uniform3fv(at('masks'), view.maskColours.flatMap(rgbOf));
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }

  close(): void {
    for (const texture of this.textures) this.gl.deleteTexture(texture);
  }
}
