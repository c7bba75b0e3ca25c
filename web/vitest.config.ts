import { defineConfig } from "vitest/config";

// The pure part of the pages (src/model, and what holds the server's answers), under Node. What a browser is needed
// for is specified in spec/browser.
export default defineConfig({ test: { include: ["spec/**/*.spec.ts"], environment: "node", sequence: { shuffle: true } } });
