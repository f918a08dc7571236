/** Two waves: the process, and its expectation. */
export function Logo({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true" focusable="false">
      <path
        d="M2 13c4.500-9 9.300-9 14 0s9.500 9 14 0"
        fill="none"
        stroke="#f2b134"
        strokeWidth="2.400"
        strokeLinecap="round"
      />
      <path
        d="M2 20c4.500-9 9.300-9 14 0s9.500 9 14 0"
        fill="none"
        stroke="#7cc4c4"
        strokeWidth="2.400"
        strokeLinecap="round"
      />
    </svg>
  )
}
