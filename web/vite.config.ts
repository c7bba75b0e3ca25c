import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// What every page begins with changes seldom: apart from our own code a browser keeps it over an update. All else lies
// with the step that needs it, and is fetched with that.
const FIRST = /node_modules\/(react|react-dom|scheduler|react-router|@tanstack\/(react-query|query-core)|@emotion|stylis|@mui\/(system|styled-engine|private-theming|utils))\//;

export default defineConfig({
  plugins: [react()],
  build: { rolldownOptions: { output: { codeSplitting: { groups: [{ name: "first", test: FIRST }] } } } },
});
