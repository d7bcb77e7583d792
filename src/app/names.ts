/** An id that no other project has. */
export function freshId(): string {
  return crypto.randomUUID().slice(0, 13);
}

/** The name of a copy. */
export function copyName(name: string): string {
  return `${name.slice(0, 114)} copy`;
}
