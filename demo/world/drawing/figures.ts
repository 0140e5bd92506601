import { seeded } from '../random';

export const PEOPLE = ['odd', 'ibis', 'reed_widow', 'sallow', 'bog_heron', 'otter'] as const;
export type Person = (typeof PEOPLE)[number];
export const MOODS = ['calm', 'wary', 'glad', 'cross'] as const;
export type Mood = (typeof MOODS)[number];

const MOUTHS: Record<Mood, string> = {
  calm: 'M-14 0 q14 5 28 0',
  wary: 'M-10 2 q10 -4 20 1',
  glad: 'M-17 -3 q17 17 34 0',
  cross: 'M-14 6 q14 -13 28 0',
};

function brows(mood: Mood, y: number, gap: number, colour: string): string {
  const tilt = { calm: 0, wary: -5, glad: -3, cross: 7 }[mood];
  return `<path d="M${-gap - 13} ${y - tilt} L${-gap + 11} ${y + tilt} M${gap - 11} ${y + tilt} L${gap + 13} ${y - tilt}" stroke="${colour}" stroke-width="5" stroke-linecap="round"/>`;
}

function eyes(mood: Mood, y: number, gap: number): string {
  const open = { calm: 6, wary: 8, glad: 4, cross: 5 }[mood];
  return [-gap, gap]
    .map(
      (x) =>
        `<ellipse cx="${x}" cy="${y}" rx="8" ry="${open}" fill="#f4efe2"/><circle cx="${x + (mood === 'wary' ? 3 : 0)}" cy="${y}" r="4" fill="#1b2a2c"/>`,
    )
    .join('');
}

const mouth = (mood: Mood, y: number, colour: string): string =>
  `<g transform="translate(0 ${y})"><path d="${MOUTHS[mood]}" stroke="${colour}" stroke-width="4" fill="none" stroke-linecap="round"/></g>`;

/** The keeper: broad hat, oilskin cape, grey beard, and the lantern he never puts down. */
function odd(mood: Mood, cape: string): string {
  return `<path d="M-110 150 Q-96 20 0 6 Q96 20 110 150 Z" fill="${cape}"/><path d="M0 14 L-10 150 L14 150 Z" fill="#00000033"/><path d="M-78 90 q18 -40 40 -56 M80 92 q-16 -40 -38 -58" stroke="#00000040" stroke-width="5" fill="none"/><circle cx="0" cy="-34" r="48" fill="#d9a57c"/><path d="M-46 -26 Q-44 44 0 50 Q44 44 46 -26 Q30 4 0 4 Q-30 4 -46 -26 Z" fill="#b9b7ab"/>${eyes(mood, -42, 19)}${brows(mood, -56, 19, '#8f8d80')}<path d="M0 -40 L-7 -18 L5 -18 Z" fill="#c48f66"/>${mouth(mood, 8, '#6d4434')}<path d="M-86 -66 Q0 -92 86 -66 Q70 -52 0 -56 Q-70 -52 -86 -66 Z" fill="#2c4a46"/><path d="M-44 -68 Q-38 -122 4 -124 Q44 -118 46 -68 Z" fill="#35574f"/><path d="M-45 -74 Q0 -88 47 -74" stroke="#c58f35" stroke-width="8" fill="none"/><g transform="translate(84 66)"><circle r="42" fill="#f7c667" opacity=".22"/><path d="M-14 -28 L14 -28 L18 24 L-18 24 Z" fill="#ffe0a0" stroke="#5a3b22" stroke-width="5"/><path d="M0 -28 L0 24" stroke="#5a3b22" stroke-width="2"/><path d="M-10 -28 Q0 -50 10 -28" stroke="#5a3b22" stroke-width="4" fill="none"/></g>`;
}

/** The young traveller: a curved bird mask pushed up on her brow, a red scarf, a satchel strap. */
function ibis(mood: Mood, cape: string): string {
  return `<path d="M-82 150 Q-80 40 0 26 Q80 40 82 150 Z" fill="${cape}"/><path d="M-60 60 L62 140" stroke="#6a4628" stroke-width="12"/><path d="M-44 22 Q0 52 46 22 L38 52 Q0 74 -36 50 Z" fill="#a8402f"/><path d="M34 44 q26 30 12 66" stroke="#a8402f" stroke-width="18" fill="none"/><path d="M-50 -30 Q-58 34 -34 44 L-44 -10 Z M50 -30 Q58 34 34 44 L44 -10 Z" fill="#2a1d18"/><ellipse cx="0" cy="-18" rx="43" ry="50" fill="#a9714c"/>${eyes(mood, -20, 17)}${brows(mood, -36, 17, '#2a1d18')}<path d="M0 -16 L-5 2 L5 2 Z" fill="#8f5b3b"/>${mouth(mood, 16, '#5f2a22')}<path d="M-48 -42 Q-40 -98 0 -98 Q42 -96 48 -42 Q20 -62 -48 -42 Z" fill="#efe8d6"/><path d="M2 -82 Q70 -92 104 -28 Q70 -64 8 -58 Z" fill="#2d2a26"/><circle cx="-16" cy="-70" r="8" fill="#a8402f"/>`;
}

/** The Reed Widow: a veil woven of reed, pale face, hands folded over a knot of grass. */
function widow(mood: Mood, cape: string): string {
  const random = seeded('veil');
  let veil = '';
  for (let i = 0; i < 22; i++) {
    const x = -74 + i * 7;
    veil += `<path d="M${x * 0.4} -104 Q${x} -40 ${x * 1.25} ${120 + random() * 30}" stroke="${i % 2 ? '#7c8a55' : '#94a069'}" stroke-width="4" fill="none"/>`;
  }
  return `<path d="M-96 150 Q-90 -40 0 -112 Q90 -40 96 150 Z" fill="${cape}"/>${veil}<ellipse cx="0" cy="-22" rx="40" ry="52" fill="#dcd8c8"/>${eyes(mood, -28, 16)}${brows(mood, -44, 16, '#7d7b6c')}<path d="M0 -22 L-4 -2 L5 -2 Z" fill="#c1bca9"/>${mouth(mood, 12, '#7a4a52')}<path d="M-42 -40 Q0 -88 42 -40 Q0 -64 -42 -40 Z" fill="#56683f"/><path d="M-26 96 q26 -26 52 0 q-26 22 -52 0 Z" fill="#dcd8c8"/><path d="M0 90 q-20 -40 4 -64 M4 90 q22 -34 6 -58" stroke="#94a069" stroke-width="5" fill="none"/>`;
}

/** Captain Sallow: tall cocked hat, high collar, waxed moustache, brass buttons. */
function sallow(mood: Mood, cape: string): string {
  return `<path d="M-104 150 Q-92 36 -30 24 L30 24 Q92 36 104 150 Z" fill="${cape}"/><path d="M-40 18 L-58 62 L-14 44 L0 150 L14 44 L58 62 L40 18 Z" fill="#e0c27a"/><path d="M0 60 L0 150" stroke="#3b2a20" stroke-width="3"/>${[76, 100, 124].map((y) => `<circle cx="-14" cy="${y}" r="6" fill="#c58f35"/><circle cx="14" cy="${y}" r="6" fill="#c58f35"/>`).join('')}<path d="M-42 -60 Q-46 30 0 40 Q46 30 42 -60 Z" fill="#e2b893"/>${eyes(mood, -30, 18)}${brows(mood, -46, 18, '#3b2a20')}<path d="M0 -28 Q-14 -2 2 0 Q12 -4 4 -14 Z" fill="#cf9b76"/><path d="M-36 10 Q-14 -6 0 6 Q14 -6 36 10 Q44 2 46 -6 Q26 6 0 0 Q-26 6 -46 -6 Q-44 2 -36 10 Z" fill="#3b2a20"/>${mouth(mood, 22, '#7a3d33')}<path d="M-92 -64 Q0 -40 92 -64 Q70 -146 0 -138 Q-70 -146 -92 -64 Z" fill="#1d2b3a"/><path d="M-92 -64 Q0 -40 92 -64 Q0 -84 -92 -64 Z" fill="#c58f35"/><path d="M36 -108 q36 -40 54 -10 q-26 -4 -42 26 Z" fill="#efe8d6"/>`;
}

/** The bog-heron, taller than a mast: hunched neck, dagger bill, a crest of broken plumes. */
function heron(mood: Mood, cape: string): string {
  const lid = { calm: 0, wary: -4, glad: 2, cross: 6 }[mood];
  return `<path d="M-120 150 Q-110 60 -30 58 Q40 56 60 150 Z" fill="${cape}"/><path d="M-96 120 q40 -30 90 -16 M-90 140 q44 -26 96 -8" stroke="#00000044" stroke-width="6" fill="none"/><path d="M-40 96 Q34 60 8 12 Q-22 -30 4 -74" stroke="${cape}" stroke-width="40" fill="none" stroke-linecap="round"/><path d="M-30 92 Q44 56 16 10 Q-12 -28 10 -70" stroke="#dfe2d6" stroke-width="12" fill="none" stroke-linecap="round" stroke-dasharray="14 10"/><ellipse cx="14" cy="-84" rx="42" ry="30" fill="#51666b"/><path d="M40 -100 L136 -72 L40 -68 Z" fill="#d7a13f"/><path d="M44 -82 L136 -72 L46 -70 Z" fill="#a8752a"/><circle cx="30" cy="-92" r="10" fill="#f3e08a"/><circle cx="32" cy="-91" r="5" fill="#14201f"/><path d="M18 ${-104 + lid} L44 ${-102 - lid}" stroke="#2b3b3e" stroke-width="5"/><path d="M-18 -98 Q-70 -112 -104 -84 M-16 -90 Q-62 -92 -92 -62 M-14 -82 Q-50 -74 -72 -44" stroke="#1f2d30" stroke-width="8" fill="none" stroke-linecap="round"/>`;
}

/** An otter on its back, holding a shell. */
function otter(mood: Mood, cape: string): string {
  return `<ellipse cx="0" cy="84" rx="104" ry="56" fill="${cape}"/><ellipse cx="0" cy="84" rx="66" ry="36" fill="#c9a57c"/><path d="M-96 60 Q-140 40 -132 4" stroke="${cape}" stroke-width="26" fill="none" stroke-linecap="round"/><circle cx="0" cy="-12" r="56" fill="${cape}"/><circle cx="-44" cy="-50" r="15" fill="${cape}"/><circle cx="44" cy="-50" r="15" fill="${cape}"/><ellipse cx="0" cy="8" rx="34" ry="26" fill="#d9bb93"/>${eyes(mood, -22, 22)}${brows(mood, -38, 22, '#3a251a')}<path d="M-10 -4 L10 -4 L0 8 Z" fill="#2c1c14"/>${mouth(mood, 18, '#2c1c14')}<path d="M-30 8 L-74 0 M-30 14 L-72 18 M30 8 L74 0 M30 14 L72 18" stroke="#efe8d6" stroke-width="2"/><path d="M-22 74 q22 -34 44 0 q-22 12 -44 0 Z" fill="#e9c7b0" stroke="#9a6a55" stroke-width="3"/><path d="M0 58 L0 78 M-10 62 L-8 78 M10 62 L8 78" stroke="#9a6a55" stroke-width="2"/>`;
}

const DRAW: Record<Person, (mood: Mood, cape: string) => string> = {
  odd,
  ibis,
  reed_widow: widow,
  sallow,
  bog_heron: heron,
  otter,
};

export const COATS: Record<Person, string> = {
  odd: '#8a3f23',
  ibis: '#3f6f78',
  reed_widow: '#3d4a35',
  sallow: '#2b3f5c',
  bog_heron: '#5f757a',
  otter: '#6b4630',
};

/** A person from the waist up, about 240 by 290 units around the origin. */
export function person(who: Person, mood: Mood, coat = COATS[who]): string {
  return DRAW[who](mood, coat);
}
