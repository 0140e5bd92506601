/** Lets the browser fetch a ZIP that was made ready. */
export function startDownload(ticket: string): void {
  const link = document.createElement('a');
  link.href = `/api/downloads/${ticket}`;
  link.click();
}
