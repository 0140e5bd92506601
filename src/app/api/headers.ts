/** What every answer says of itself, whoever may have asked for it. */
export const SAFE_HEADERS: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'x-frame-options': 'SAMEORIGIN',
  'cross-origin-resource-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(self), geolocation=(), payment=(), usb=()',
};

/** What an answer of the interface may do when a browser shows it as a page: nothing. */
export const DATA_POLICY = "default-src 'none'; frame-ancestors 'none'; sandbox";

/**
 * What a page of ours may do: run its own scripts, named by this nonce, and ask the application itself for everything else. Styles are
 * put in by the components while the page runs, so that they cannot be named.
 */
export const pagePolicy = (nonce: string): string =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "media-src 'self' blob:",
    "worker-src 'self' blob:",
    "connect-src 'self'",
    "font-src 'self'",
    "frame-src 'self'",
    "frame-ancestors 'none'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
  ].join('; ');
