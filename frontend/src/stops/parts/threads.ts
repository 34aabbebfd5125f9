/** Threads of mounting holes, as the library names them and as people write them. */
export const THREADS = [
  ["M2", "M2"],
  ["M2_5", "M2.5"],
  ["M3", "M3"],
  ["UNC6_32", "#6-32"],
  ["M4", "M4"],
] as const;

export type Thread = (typeof THREADS)[number][0];
