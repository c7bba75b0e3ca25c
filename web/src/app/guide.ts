/** Where the guide tells of a step; the server makes a page of docs/guide.md. */
export const guideAt = (step: string): string => `/guide#${step || "shows"}`;
