/** The mark: three stripes of a cone in the wind. */
export function Mark({ size = 20 }: { size?: number }) {
  return (
    <svg width={size * 1.7} height={size} viewBox="0 0 34 20" aria-hidden="true">
      <path d="M2 2 30 7v6L2 18Z" fill="#fff" stroke="var(--ink)" strokeWidth="1" strokeLinejoin="round" />
      <path d="m2 2 6 1v14l-6 1ZM14 4.2l6 1v9.6l-6 1ZM25 6.1l5 .9v6l-5 .9Z" fill="#C8420B" />
    </svg>
  );
}
