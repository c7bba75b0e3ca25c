import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// Libraries change seldom: apart from our own code a browser keeps them over an update.
const groups = [
  { name: "mui", test: /node_modules\/(@mui|@emotion)/ },
  { name: "flow", test: /node_modules\/(@xyflow|d3-)/ },
  { name: "libraries", test: /node_modules/ },
];

export default defineConfig({ plugins: [react()], build: { rolldownOptions: { output: { codeSplitting: { groups } } } } });
