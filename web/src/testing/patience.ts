/** Waits of tests: a machine that does other work besides is slow, not wrong. */
if (typeof document !== "undefined") {
  const { configure } = await import("@testing-library/react");
  configure({ asyncUtilTimeout: 10_000 });
}

export {};
