export function WordMark() {
  return (
    <span className="flex items-center gap-2 font-serif text-[19px] font-semibold">
      <svg viewBox="0 0 18 18" className="size-[18px]" aria-hidden>
        <path d="M9 1 17 9 9 17 1 9Z" fill="none" stroke="#1C2430" strokeWidth="1.4" />
        <path d="M5 9h8M6.6 6.6h4.8M6.6 11.4h4.8M8 4.6h2M8 13.4h2" stroke="#9A4A1F" strokeWidth="1.1" />
      </svg>
      Gravenel
    </span>
  );
}
