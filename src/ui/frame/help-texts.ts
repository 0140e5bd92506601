type Rows = readonly (readonly [string, string])[];

export const FIRST_STEPS: Rows = [
  ['Folder', 'Add the folder of a game on the shelf. It is only read until you install a mod.'],
  ['Locks', 'See which archives are open. Paste a key, or look for it in the program of the game.'],
  [
    'Contents',
    'Find the entry: by folder, by lens, by search. Look, listen, read; extract what you want to edit.',
  ],
  ['Changes', 'Put your file in its place, by Replace or by dropping it. Mend what does not fit.'],
  ['Build', 'Write the changed archives beside the game. Each is opened again and proved.'],
  ['Installed', 'Put the build into the game. The originals are kept, and come back in one step.'],
  ['Trial', 'Let the stand-in load the folder, or start the game, and see whether it holds.'],
];

/** What each screen is for, by the last step of its address. */
export const SCREENS: Readonly<Record<string, readonly string[]>> = {
  folder: [
    'What was found in the folder, which version of the engine it is, and what is to be known about it.',
    'Scan again after an update. Point the game at another folder at the right; keys, mods and originals stay.',
  ],
  locks: [
    'Every archive in load order; the last one answers first. Choose a locked one to see how far each key got.',
    'Add key takes a key or any text with keys in it. Find the key looks for it in a program and proves it.',
    'Add a name list gives names to entries that are kept by a hash only; Work out names tries patterns and learns them.',
    'Files under a mask stand in one row; one key opens all of them.',
  ],
  contents: [
    'One tree shows the folders as the game sees them; Archives shows each archive as a root of its own, with what others hide.',
    'Press / to search; Down or Enter goes into the list, Up from its first row back. Panels can be drawn wider and folded.',
    'Search inside looks through the bytes of what the list shows. Readable names translates codes. Pick by lines takes a manifest.',
    'A changed entry is shown as it will be; o shows its original. Files for these puts many files in place, shown first.',
  ],
  changes: [
    'Whether each change fits its slot, and what would mend it. What is amber is worth a look, and is no refusal.',
    'A work folder is watched: what your editor saves there becomes a change by itself.',
  ],
  build: [
    'What will be written, in which way, and the proof of what was. Ways that would be refused are not offered.',
    'The arrows at the end of a row show its old and new bytes side by side. Only a build whose proof holds can be installed.',
  ],
  installed: [
    'What is in the game folder besides its originals, and the way back.',
    'A file that something else changed is never overwritten unless you say so.',
  ],
  trial: [
    'The stand-in mounts the folder as the game would, and says what it took from where, and where it stalls.',
    'Loading is held against the usual time of earlier runs.',
  ],
  recipes: [
    'What you want to take out again and again: what is picked, how it is converted, named and where it goes.',
  ],
  activity: [
    'Everything that was done in all games, with what came of it; what failed can be tried again alone.',
  ],
  desk: [
    'All lines of the game in its languages. Arrows move, Enter writes in a line and goes on, Ctrl and Enter say done, D says done or takes it back, / searches, Ctrl and H replaces.',
    'Out and in takes what is listed out as XLSX, CSV, PO, XLIFF or JSON; what comes back is shown before it is taken. More has the glossary, progress and new languages.',
    'Lines are kept as you write them. Put into the mod makes changes of them, which are built like any other.',
  ],
  'sound-desk': [
    'A strip joins sounds of any games to a new one: drag them into order; give each a gap (below nothing both are heard at once), a level and fades. Save it, or put it in the place of a sound.',
    'A pad plays sounds by the keys of the keyboard, from the start at each press; Esc stops all. Press the name on a key to change it, drag it onto another to move it.',
    'Shared as a file a board holds the places of its sounds and nothing of the games. Drop such a file here to take it in.',
  ],
  scripts: [
    'Format scripts: those that ship, and yours. A script is checked while you type, and tried on a real file.',
  ],
};

export const SEARCH: Rows = [
  ['cape odd', 'both words in the path, or in what you call it'],
  ['"cape odd"', 'just this'],
  ['*_hull.sheet', 'a pattern for the name'],
  ['/^actors.*ibis/', 'an expression for the path'],
  ['kind:sound', 'a kind: picture, sound, film, model, text, archive, program, data'],
  ['size:>1MB', 'a size, also < and a range 1KB..2MB'],
  ['in:amends', 'in an archive'],
  ['hash:00afa0', 'a hash, or how it begins'],
  ['number:17', 'its number in the archive'],
  ['tag:done', 'a tag of yours'],
  [
    'length:<2s',
    'of sounds: a length, also level:>-12dB, rate:44.1khz, channels:2, is:silent, is:clipped, is:broken',
  ],
  [
    'triangles:>5k',
    'of models: how many, also vertices:, bones:0, clips:>1; is:finest has the most triangles of several alike in name',
  ],
  ['is:hidden', 'hidden by another archive; also is:unnamed, is:changed, is:problem'],
  ['-cape', 'without it'],
];

export const EVERYWHERE_KEYS: Rows = [
  ['?', 'this help'],
  ['[ ]', 'the link of the chain before, and the next'],
  ['Tab', 'from one thing to the next; the first leads past the bars'],
];

export const CONTENTS_KEYS: Rows = [
  ['/', 'search the contents'],
  ['↑ ↓', 'move through the list; up from its first row to the search'],
  ['Enter, ↓', 'in the search: into the list'],
  ['Space', 'play a sound, or lay a picture on the light table'],
  [
    'p',
    'play the sounds of the list one after the other; then a for once more, < and > for slower and faster, m to mark, t for tags, n for a name',
  ],
  ['x', 'pick the entry, or put it back'],
  ['n, N', 'next or previous entry of the same name in another folder'],
  ['e', 'extract what is picked, or the entry'],
  ['r', 'replace the entry'],
  ['b', 'show the bytes'],
  ['o', 'the original of what is changed, and back'],
  ['Esc', 'clear the picks'],
];

export const LIGHT_TABLE_KEYS: Rows = [
  ['1 to 5', 'all channels, or red, green, blue, alpha alone'],
  ['+ - 0', 'closer, farther, all of it'],
  ['↑ ↓ ← →', 'move over it'],
  ['[ ]', 'larger and smaller level'],
  ['t', 'tiled'],
  ['l', 'under a light, for maps of directions'],
  ['m', 'areas of a mask in colours'],
  ['b', 'before and after by a slider'],
  ['d', 'where they differ'],
  ['Space, Esc', 'leave'],
];

/** Pages of the documentation that a user reads. */
export const DOCS: Rows = [
  ['one-tree', 'One tree: scans, searching, lenses, load order, names'],
  ['recipes', 'Recipes: picks, names, writing only what changed'],
  ['pictures', 'Pictures: containers, codecs, fit, the light table'],
  ['mods', 'Mods: several together, originals, installing, restoring'],
  ['command-line', 'The command line'],
  ['first-script', 'Your first format script'],
  ['format-scripts', 'What a format script can say'],
];
