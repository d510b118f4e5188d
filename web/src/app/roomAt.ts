/** Which of some rooms an address is in: the one whose path is the longest it begins with. No React. */
export function roomAt(rooms: readonly { to: string }[], pathname: string): string | undefined {
  const around = rooms.filter(({ to }) => pathname === to || pathname.startsWith(`${to}/`));
  return around.sort((left, right) => right.to.length - left.to.length)[0]?.to;
}
