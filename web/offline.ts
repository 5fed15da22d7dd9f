/**
 * What the service worker keeps on a device from the first visit: the page itself, and what a
 * student's own places and the guide are made of. Everything else is kept once it was seen.
 */
import { readFileSync } from "node:fs";
import type { Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Places that open without a network, as `App.tsx` loads them. */
const AHEAD = [
  "src/sheets/SheetPage.tsx",
  "src/sheets/WorkPage.tsx",
  "src/today/OwnToday.tsx",
  "src/asking/AskedNow.tsx",
  "src/sheets/WaitingHandIns.tsx",
  "src/help/HelpPage.tsx",
  "src/app/WordCard.tsx",
  "src/app/keeping.ts",
];

type Chunk = {
  type: "chunk" | "asset";
  imports?: string[];
  isEntry?: boolean;
  facadeModuleId?: string | null;
  viteMetadata?: { importedCss?: Set<string> };
};

/** The fonts of the alphabet that nearly every name is written in; others come when needed. */
const COMMON_FONTS = /-latin-(400|600|700)-normal-.*\.woff2$/;

/** The pictures of the students' guide. */
const STUDENTS_PICTURES = guidePictures("students");

function guidePictures(whose: string): RegExp {
  const text = readFileSync(new URL(`../docs/guide/${whose}.md`, import.meta.url), "utf8");
  const names = [...text.matchAll(/screenshots\/([\w-]+)\.png/g)].map(([, name]) => name);
  return new RegExp(`/(${names.join("|")})-[\\w-]{8}\\.png$`);
}

export function withoutNetwork() {
  const ahead = new Set<string>();
  return [filesOf(ahead), ...VitePWA(options(ahead))];
}

/** Walks from the entry and the places, by what each imports, and notes every file. */
function filesOf(ahead: Set<string>): Plugin {
  return {
    name: "edrix-ahead",
    generateBundle(_options, bundle) {
      const files = bundle as unknown as Record<string, Chunk>;
      const walk = (name: string) => {
        const chunk = files[name];
        if (chunk?.type !== "chunk" || ahead.has(name)) return;
        ahead.add(name);
        for (const css of chunk.viteMetadata?.importedCss ?? []) ahead.add(css);
        chunk.imports?.forEach(walk);
      };
      for (const [name, chunk] of Object.entries(files)) {
        const from = chunk.facadeModuleId ?? "";
        if (chunk.isEntry || AHEAD.some((place) => from.endsWith(place))) walk(name);
        if (COMMON_FONTS.test(name) || STUDENTS_PICTURES.test(name)) ahead.add(name);
      }
    },
  };
}

function options(ahead: ReadonlySet<string>): Parameters<typeof VitePWA>[0] {
  return {
    // The page asks for it itself, when it has nothing better to do (app/serviceWorker.ts).
    injectRegister: null,
    manifest: false,
    workbox: {
      globPatterns: ["**/*.{js,css,woff2,html,svg,png}"],
      // The server gives the page at every place; here it is kept once, and opens them all.
      manifestTransforms: [
        (found) => ({
          manifest: found
            .filter(({ url }) => !url.startsWith("assets/") || ahead.has(url))
            .map(({ url, ...one }) => {
              if (url === "index.html") return { ...one, url: "/" };
              // Names that change with what is in them need no second look.
              return { ...one, url: `/${url}`, ...(ahead.has(url) && { revision: null }) };
            }),
          warnings: [],
        }),
      ],
      navigateFallback: "/",
      // Files and answers of the server are no places of the application.
      navigateFallbackDenylist: [/^\/api\//, /\.[^/]*$/],
      // A new version is there at the next load; what is open goes on as it is.
      skipWaiting: true,
      clientsClaim: true,
      cleanupOutdatedCaches: true,
      inlineWorkboxRuntime: true,
      sourcemap: false,
      runtimeCaching: [
        {
          // Their names change with what is in them.
          urlPattern: ({ url }) => url.pathname.startsWith("/assets/"),
          handler: "CacheFirst",
          options: {
            cacheName: "edrix-assets",
            expiration: { maxEntries: 150 },
            cacheableResponse: { statuses: [200] },
          },
        },
      ],
    },
  };
}
