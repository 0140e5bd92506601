import { seeded } from '../random';

export type Hour = 'dusk' | 'fog' | 'night' | 'dawn';

interface Light {
  sky: [string, string, string];
  water: [string, string];
  bank: string;
  reed: string;
  orb: string;
  haze: string;
}

export const LIGHTS: Record<Hour, Light> = {
  dusk: {
    sky: ['#1d3a4a', '#7a5a52', '#e09a4f'],
    water: ['#8f6a4e', '#1b3540'],
    bank: '#203a3c',
    reed: '#0f2427',
    orb: '#f6d08a',
    haze: '#e0a86a',
  },
  fog: {
    sky: ['#8a9c9a', '#a9b6ae', '#c6cbbd'],
    water: ['#a3b0a8', '#5f7673'],
    bank: '#7a8f8a',
    reed: '#3d5552',
    orb: '#f3f0de',
    haze: '#d8dccd',
  },
  night: {
    sky: ['#081620', '#10293a', '#1f4a56'],
    water: ['#1d4350', '#081820'],
    bank: '#0c2028',
    reed: '#050f13',
    orb: '#e9ead0',
    haze: '#2f6570',
  },
  dawn: {
    sky: ['#5a7f93', '#c99a9a', '#f3cfa0'],
    water: ['#d0a89a', '#3f6470'],
    bank: '#4f6a63',
    reed: '#28433f',
    orb: '#fff2cf',
    haze: '#f0cdb0',
  },
};

/** A clump of reeds with bent stems, leaves and seed heads. */
export function reeds(
  name: string,
  x: number,
  y: number,
  spread: number,
  height: number,
  colour: string,
): string {
  const random = seeded(`reeds ${name}`);
  let out = '';
  for (let i = 0; i < 14; i++) {
    const foot = x + (random() - 0.5) * spread;
    const lean = (random() - 0.5) * spread * 0.6;
    const top = y - height * (0.6 + random() * 0.4);
    const width = 1.2 + random() * 1.6;
    out += `<path d="M${foot} ${y} Q${foot + lean * 0.2} ${(y + top) / 2} ${foot + lean} ${top}" stroke="${colour}" stroke-width="${width}" fill="none"/>`;
    if (random() < 0.45)
      out += `<ellipse cx="${foot + lean}" cy="${top}" rx="${width * 1.4}" ry="${height * 0.07}" fill="#6b3f22" transform="rotate(${lean * 0.4} ${foot + lean} ${top})"/>`;
    else
      out += `<path d="M${foot + lean * 0.5} ${(y + top) / 2} q${lean} ${-height * 0.1} ${lean * 1.6} ${height * 0.05}" stroke="${colour}" stroke-width="${width * 0.8}" fill="none"/>`;
  }
  return out;
}

/** Sky, orb, far banks, water with ripples and the glow upon it. Everything else is drawn on top. */
export function marsh(name: string, width: number, height: number, hour: Hour): string {
  const light = LIGHTS[hour];
  const random = seeded(`marsh ${name} ${hour}`);
  const horizon = height * (0.5 + random() * 0.08);
  const orbX = width * (0.2 + random() * 0.6);
  const orbY = horizon * (0.3 + random() * 0.35);
  const size = height * 0.075;
  let out = `<defs><linearGradient id="sky" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${light.sky[0]}"/><stop offset=".6" stop-color="${light.sky[1]}"/><stop offset="1" stop-color="${light.sky[2]}"/></linearGradient><linearGradient id="water" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${light.water[0]}"/><stop offset="1" stop-color="${light.water[1]}"/></linearGradient></defs>`;
  out += `<rect width="${width}" height="${horizon + 1}" fill="url(#sky)"/><circle cx="${orbX}" cy="${orbY}" r="${size * 1.7}" fill="${light.orb}" opacity=".18"/><circle cx="${orbX}" cy="${orbY}" r="${size}" fill="${light.orb}"/>`;
  if (hour === 'night')
    for (let i = 0; i < 40; i++)
      out += `<circle cx="${random() * width}" cy="${random() * horizon * 0.8}" r="${0.5 + random()}" fill="#f2f0dc" opacity="${0.4 + random() * 0.6}"/>`;
  for (let band = 0; band < 3; band++) {
    let d = `M0 ${horizon}`;
    const base = horizon - height * (0.1 - band * 0.03);
    for (let x = 0; x <= width; x += width / 16) d += ` L${x} ${base - random() * height * 0.06}`;
    out += `<path d="${d} L${width} ${horizon} Z" fill="${light.bank}" opacity="${0.35 + band * 0.3}"/>`;
  }
  out += `<rect y="${horizon}" width="${width}" height="${height - horizon}" fill="url(#water)"/>`;
  for (let i = 0; i < 26; i++) {
    const y = horizon + random() ** 1.4 * (height - horizon);
    const x = i < 10 ? orbX + (random() - 0.5) * size * 2.4 : random() * width;
    const length = (6 + random() * 30) * (0.4 + (y - horizon) / (height - horizon));
    out += `<path d="M${x - length} ${y} q${length} ${-2 - random() * 2} ${length * 2} 0" stroke="${light.orb}" stroke-width="1.6" fill="none" opacity="${i < 10 ? 0.65 : 0.22}"/>`;
  }
  if (hour === 'fog')
    for (let i = 0; i < 5; i++)
      out += `<ellipse cx="${random() * width}" cy="${horizon + (random() - 0.4) * height * 0.3}" rx="${width * 0.35}" ry="${height * 0.05}" fill="${light.haze}" opacity=".5"/>`;
  return out;
}

/** The flat ferry with its rail, its mast and its lantern. `lit` gives the lantern a glow. */
export function ferry(x: number, y: number, scale: number, lit = true): string {
  const glow = lit
    ? `<circle cx="46" cy="-58" r="26" fill="#f7c667" opacity=".25"/><circle cx="46" cy="-58" r="13" fill="#f7c667" opacity=".4"/>`
    : '';
  return `<g transform="translate(${x} ${y}) scale(${scale})"><path d="M-70 0 L74 0 L60 20 L-54 20 Z" fill="#4a2c1c"/><path d="M-70 0 L74 0 L71 6 L-66 6 Z" fill="#7b4a2b"/><path d="M-54 -18 L-54 0 M-30 -18 L-30 0 M-6 -18 L-6 0 M18 -18 L18 0" stroke="#7b4a2b" stroke-width="3"/><path d="M-58 -18 L24 -18" stroke="#95623a" stroke-width="4"/><path d="M46 0 L46 -72" stroke="#3a2216" stroke-width="5"/><path d="M46 -72 L30 -66" stroke="#3a2216" stroke-width="3"/>${glow}<rect x="40" y="-66" width="12" height="16" rx="3" fill="${lit ? '#ffe3a0' : '#5c6b66'}" stroke="#2a1a12" stroke-width="2"/><path d="M-78 24 q40 -6 80 0 t80 0" stroke="#e8dcc0" stroke-width="2" fill="none" opacity=".5"/></g>`;
}
