/** The house's mark: two cork rounds that overlap, with a pair of eyes. */
export function Mark() {
  return (
    <svg className="ct-mark" viewBox="0 0 40 28" width="40" height="28" aria-hidden>
      <circle cx="14" cy="14" r="12" fill="#E6CFA8" stroke="#7B4A1A" strokeWidth="1.2" />
      <circle cx="26" cy="14" r="12" fill="#D4AD7A" fillOpacity=".85" stroke="#7B4A1A" strokeWidth="1.2" />
      <circle cx="17.2" cy="14" r="2.9" fill="#24211C" />
      <circle cx="22.8" cy="14" r="2.9" fill="#24211C" />
    </svg>
  );
}
