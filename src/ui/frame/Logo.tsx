/** Our mark: a latch lifted off its keep. */
export function Logo() {
  return (
    <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden>
      <path
        d="M3 5h13l-11 12h14"
        fill="none"
        stroke="#dba94d"
        strokeWidth="2.4"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <circle cx="18" cy="5" r="1.8" fill="#dba94d" />
    </svg>
  );
}
