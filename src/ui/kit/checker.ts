/** Squares behind a picture, so that see-through parts are seen as such. */
export const checker = {
  backgroundImage: 'conic-gradient(#8a949444 25%, #0000 0 50%, #8a949444 0 75%, #0000 0)',
  backgroundSize: '16px 16px',
} as const;
