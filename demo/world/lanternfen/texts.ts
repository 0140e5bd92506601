import { PANEL_MASK, PLUMAGE, PLUMAGE_MAPS } from './maps';
import { PEOPLE, type Person } from '../drawing/figures';
import { PLACES } from '../drawing/places';

/** What each person says, by the name of the line. */
export const SPOKEN: Record<Person, Record<string, string>> = {
  odd: {
    greeting: 'Mind the third plank. It minds you.',
    fare: 'Two coins, or one good story.',
    fog: 'When the fog sits down, we sit down too.',
    lantern: 'A lantern is a promise you can see.',
    widow: 'She counts the reeds. Do not help her count.',
    storm: 'Hold the rail and think of dry socks.',
    oil: 'Oil for the tower first. Then the rest of us.',
    farewell: 'Go dry. Come back dry.',
  },
  ibis: {
    greeting: 'Is this the boat that goes the wrong way?',
    mask: 'The mask is for the gnats. Mostly.',
    map: 'My map ends where your ferry begins.',
    river: 'There was a river here. I have its name.',
    bell: 'I rang it once. It rang back.',
    heron: 'It looked at me as if I owed it money.',
    night: 'Nobody told me the dark had frogs in it.',
    thanks: 'You did not ask why. Thank you for that.',
  },
  reed_widow: {
    greeting: 'Nine thousand and four. You made me lose my place.',
    reeds: 'Every reed is somebody waiting.',
    ferry: 'He promised me the last crossing.',
    name: 'Say it once, and not to the water.',
    lamp: 'Turn that lamp. It shows too much of me.',
    gift: 'Take the knot. Never untie it on a boat.',
    song: 'That song has a verse for drowning.',
    farewell: 'Go on. I have reeds to see to.',
  },
  sallow: {
    greeting: 'Captain Sallow. You will have heard of the hat.',
    toll: 'The toll is two coins. For you, three.',
    eels: 'My eels are counted, madam. Nightly.',
    law: 'The marsh has laws. I wrote most of them.',
    rope: 'A rope is only a very patient snake.',
    ferry: 'Your ferry leans. I said leans.',
    bell: 'Who rang my bell? I shall ring his.',
    farewell: 'Do not let me keep you. That costs extra.',
  },
  bog_heron: {
    greeting: 'Krrr. A small light on a small boat.',
    nest: 'Eggs are stones that changed their mind.',
    crest: 'My crest broke on your lamp tower. Krrr.',
    fish: 'You smell of fish. This is praise.',
    marsh: 'I was here when the marsh was rain.',
    keeper: 'The keeper owes me a shadow.',
  },
  otter: {
    greeting: 'Shell? Shell! Shell.',
    trade: 'One shell for one shell. Fair.',
    ferry: 'We push. You say you row. We know.',
    night: 'Tie a paw before you sleep.',
    storm: 'Under is dry. Ask anyone under.',
    thanks: 'Keep the shell. No, give it back.',
  },
};

const TONGUES: Record<string, { fare: string; title: string; places: string }> = {
  en: { fare: 'Fare', title: 'The night ferry', places: 'Landing' },
  de: { fare: 'Fährgeld', title: 'Die Nachtfähre', places: 'Anleger' },
  no: { fare: 'Ferjepenger', title: 'Nattferja', places: 'Kai' },
};

const human = (name: string): string => name.replace(/_/g, ' ').replace(/^./, (sign) => sign.toUpperCase());

/** A table of lines: an identifier, a tab, the text. */
function lines(rows: readonly (readonly [string, string])[]): string {
  return rows.map(([id, text]) => `${id}\t${text}\n`).join('');
}

/** All texts of the open hold by path. */
export function texts(): Map<string, string> {
  const files = new Map<string, string>();
  for (const [tongue, words] of Object.entries(TONGUES)) {
    files.set(
      `text/${tongue}/ferry.lines`,
      lines([
        ['title', words.title],
        ['jetty.greeting', SPOKEN.odd.greeting!],
        ['jetty.fare', `${words.fare}: {coins}`],
        ...PLACES.map((place) => [`landing.${place}`, `${words.places} ${human(place)}`] as const),
      ]),
    );
    for (const who of PEOPLE)
      files.set(
        `text/${tongue}/voices/${who}.lines`,
        lines(Object.entries(SPOKEN[who]).map(([id, text]) => [`${who}.${id}`, text])),
      );
    for (const place of PLACES)
      files.set(
        `text/${tongue}/places/${place}.lines`,
        lines([
          [`${place}.name`, human(place)],
          [`${place}.arrive`, `${words.places} ${human(place)}. {passengers} aboard.`],
          [`${place}.leave`, `${human(place)} falls behind. {oil} measures of oil left.`],
        ]),
      );
  }
  PLACES.forEach((place, i) => {
    files.set(
      `scenes/${place}.scene`,
      `${JSON.stringify(
        {
          scene: place,
          backdrop: `places/${place}/${place}_dusk.sheet`,
          figure: `actors/${PEOPLE[i % PEOPLE.length]}/portrait_calm.sheet`,
          title: 'screens/title.sheet',
          glass: 'props/lantern/glass_colour.sheet',
          cape: `actors/odd/cape/cape_${i % 2 === 0 ? 'rain' : 'dry'}_colour.sheet`,
          ...(place === 'jetty' && {
            ground: 'places/jetty/boards_near.sheet',
            outfit: 'wardrobe/odd/storm_colour.sheet',
            creature: 'creatures/bog_heron/bog_heron.form creatures/bog_heron/bog_heron.gait strike 14',
            lamp: 'props/lantern/lantern.form',
            puppet: 'market heron',
            plumage: `${PLUMAGE} ${PLUMAGE_MAPS}`,
            frame: `${PANEL_MASK} #22343a #c58f35 #f3ead2`,
            song: '0417 0417/003',
            menu: 'text/tongues.lines',
            talk: 'text/en/talk.sayings jetty.odd.01',
            font: 'type/talk.glyphs',
            film: 'opening',
            reel: 'chest/reels.hold films/widow.spool',
          }),
          lines: 'text/en/ferry.lines',
          line: place === 'jetty' ? 'jetty.greeting' : `landing.${place}`,
          voice: `voice/en/${PEOPLE[i % PEOPLE.length]}/greeting.wav`,
          water: 'sound/water/lap_01.wav',
        },
        null,
        2,
      )}\n`,
    );
    files.set(
      `routes/${place}.json`,
      `${JSON.stringify({ from: place, to: [PLACES[(i + 1) % 10], PLACES[(i + 3) % 10]], oil: 3 + (i % 4), fare: 2 + (i % 3) }, null, 2)}\n`,
    );
  });
  return files;
}

/** Goods for the item tables. */
export function itemTable(names: readonly string[]): string {
  return `code,item,weight,price,stack\n${names.map((name, i) => `lf${String(40 + i * 3).padStart(4, '0')},${human(name)},${((i * 7) % 9) / 2 + 0.5},${2 + ((i * 5) % 17)},${1 + (i % 6)}`).join('\n')}\n`;
}
