/** An id that says nothing and that nobody else has: 12 letters and digits. */
export const freshId = (): string => Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => (byte % 36).toString(36)).join("");
