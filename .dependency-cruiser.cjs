// Imports point one way: pages → server, ui, public → core; server → contract, store, outside, public, core; ui → contract, core; core → nothing.
const not = (from, to, comment) => ({ name: comment, severity: "error", comment, from: { path: from, pathNot: "\\.test\\.ts$" }, to: { path: to } });
module.exports = {
  forbidden: [
    not("^src/core", "^src/(contract|store|server|outside|jobs|ui|public|pages|entry)", "core imports nothing of ours"),
    not("^src/core", "^node_modules/(@mikro-orm|pg|react|astro|pino|nodemailer)", "core has no I/O and no framework"),
    not("^src/core", "^(fs|net|http|https|crypto|child_process)$", "core has no I/O"),
    not("^src/contract", "^src/(store|server|outside|jobs|ui|public|pages|entry)", "the contract knows core alone"),
    not("^src/store", "^src/(contract|server|outside|jobs|ui|public|pages|entry)", "store knows core alone"),
    not("^src/outside", "^src/(contract|store|server|jobs|ui|public|pages|entry)", "outside knows core alone"),
    not("^src/ui", "^src/(store|server|outside|jobs|pages|entry)", "ui talks to endpoints"),
    not("^src/public", "^src/(contract|store|server|outside|jobs|ui|pages|entry)", "public knows core alone"),
    not("^src/server", "^src/(ui|pages|jobs|entry)", "server knows no interface"),
    {
      name: "rooms are entered by their door",
      severity: "error",
      from: { path: "^src/core/([^/]+)/" },
      to: { path: "^src/core/[^/]+/(?!index)", pathNot: "^src/core/$1/" },
    },
    {
      name: "server rooms are entered by their door",
      severity: "error",
      from: { path: "^src/(?:server/([^/]+)/|)", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/server/[^/]+/(?!index\\.ts$)", pathNot: "^src/server/$1/" },
    },
    { name: "server rooms know one another one way, types too", severity: "error", from: { path: "^src/server" }, to: { circular: true } },
    { name: "no cycles", severity: "error", from: {}, to: { circular: true, dependencyTypesNot: ["type-only"] } },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsConfig: { fileName: "tsconfig.json" }, tsPreCompilationDeps: true, exclude: "\\.(css|astro)$" },
};
