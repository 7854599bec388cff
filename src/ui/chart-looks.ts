/** How charts look: small muted figures without lines, close to the edge, and a note that does not slide. */
export const MARGIN = { top: 4, right: 6, bottom: 0, left: 0 } as const;
export const AXIS = {
  tick: { fontSize: 11, fill: 'var(--muted)' },
  axisLine: false,
  tickLine: false,
} as const;
export const TIP = {
  isAnimationActive: false,
  contentStyle: { fontSize: 12, background: 'var(--surface)', border: '1px solid var(--rule)' },
} as const;
