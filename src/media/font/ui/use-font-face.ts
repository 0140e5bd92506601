import { useEffect, useState } from 'react';

/** The font of an entry as the browser draws it, under a name of its own; undefined where the browser reads no such font. */
export function useFontFace(url: string, version: string, isOpen: boolean): string | undefined {
  const [family, setFamily] = useState<string>();
  useEffect(() => {
    if (!isOpen) return;
    const name = `entry-${url.replace(/\W+/g, '-')}-${version}`;
    let [isGone, face] = [false, undefined as FontFace | undefined];
    const load = async (): Promise<void> => {
      const response = await fetch(`${url}/raw`);
      if (!response.ok) return;
      const made = await new FontFace(name, await response.arrayBuffer()).load();
      if (isGone) return;
      document.fonts.add((face = made));
      setFamily(name);
    };
    load().catch(() => undefined);
    return () => {
      isGone = true;
      if (face) document.fonts.delete(face);
      setFamily(undefined);
    };
  }, [url, version, isOpen]);
  return family;
}
