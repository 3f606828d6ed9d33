import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: {
    manifest: true,
    assetsInlineLimit: 0,
    sourcemap: false,
    rollupOptions: { input: "src/main.tsx" },
  },
});
