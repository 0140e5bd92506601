import sharp, { type Sharp } from 'sharp';

/**
 * The package can read far more than we mean to, drawings and documents among them whose few bytes keep it busy for minutes. Only what
 * is told by its first bytes and decoded texel by texel is let in.
 */
sharp.block({ operation: ['VipsForeignLoad'] });
sharp.unblock({
  operation: [
    'VipsForeignLoadPng',
    'VipsForeignLoadJpeg',
    'VipsForeignLoadWebp',
    'VipsForeignLoadNsgif',
    'VipsForeignLoadTiff',
    'VipsForeignLoadHeif',
  ],
});

export { sharp, type Sharp };
