/** Lets in as many pictures at a time as together have no more texels than are allowed; one that has more by itself goes alone. */
export class TexelGate {
  private used = 0;
  private readonly waiting: { readonly texels: number; readonly begin: () => void }[] = [];

  constructor(private readonly most: number) {}

  /** Does something that holds so many texels once there is room, in the order in which it was asked for. */
  async run<T>(texels: number, work: () => Promise<T>): Promise<T> {
    const share = Math.min(texels, this.most);
    if (this.waiting.length > 0 || this.used + share > this.most)
      await new Promise<void>((begin) => this.waiting.push({ texels: share, begin }));
    else this.used += share;
    try {
      return await work();
    } finally {
      this.used -= share;
      this.next();
    }
  }

  private next(): void {
    for (
      let first = this.waiting[0];
      first && this.used + first.texels <= this.most;
      first = this.waiting[0]
    ) {
      this.waiting.shift();
      this.used += first.texels;
      first.begin();
    }
  }
}
