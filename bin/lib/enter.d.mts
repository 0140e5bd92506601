/** Opens the address that bin/start printed, as a browser does. */
export function enter(
  printed: string,
): Promise<{ readonly address: string; readonly headers: Readonly<Record<string, string>> }>;
