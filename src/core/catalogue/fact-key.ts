/** How a search spells the title of a field: without blanks and other signs. */
export const factKey = (title: string): string =>
  title
    .toLowerCase()
    .match(/[\p{L}\p{N}_]+/gu)
    ?.join('-') ?? '';
