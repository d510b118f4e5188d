/** Rows of a form: each change gives new ones. No React. */

export const changed = <Row>(rows: readonly Row[], at: number, now: Partial<Row>): Row[] =>
  rows.map((row, n) => (n === at ? { ...row, ...now } : row));

export const removed = <Row>(rows: readonly Row[], at: number): Row[] =>
  rows.filter((_, n) => n !== at);
