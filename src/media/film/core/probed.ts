/** What the pictures of a film are, as ffprobe tells. */
export interface ProbedPicture {
  readonly codec: string;
  readonly width: number;
  readonly height: number;
  /** Pictures a second. */
  readonly rate: number;
  /** How its samples lie, as ffmpeg calls it. */
  readonly pixels: string;
}

/** What one of its sounds is. */
export interface ProbedSound {
  readonly codec: string;
  readonly rate: number;
  readonly channels: number;
  readonly language: string;
}

/** A film or sound. */
export interface Probed {
  readonly seconds: number | undefined;
  readonly picture: ProbedPicture | undefined;
  readonly sounds: readonly ProbedSound[];
  /** How many streams of subtitles it has. */
  readonly subtitles: number;
}

/** How loud a sound is (EBU R 128). */
export interface Loudness {
  /** In LUFS over all of it; null where it is silent. */
  readonly whole: number | null;
}
