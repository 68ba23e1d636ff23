/** The Broadside theme: a printed bill. Sent inside each page, so that the first paint needs one round trip. */
export const broadsideCss = `
@font-face{font-family:Besley;src:url(/_ib/fonts/besley.woff2) format("woff2");font-weight:400 900;font-display:optional}
@font-face{font-family:Archivo;src:url(/_ib/fonts/archivo.woff2) format("woff2");font-weight:100 900;font-display:optional}
*{box-sizing:border-box;margin:0}
:root{--ink:#141B26;--ink2:#38424F;--ink3:#5B6570;--paper:#FBFAF4;--accent:#A34721;--loss:#A52C26}
body{background:var(--paper);color:var(--ink);font:17px/1.55 Archivo,system-ui,sans-serif;font-variant-numeric:tabular-nums}
.count{display:flex;flex-wrap:wrap;gap:2px 22px;align-items:baseline;font-size:14.5px}.count em:empty{display:none}.count em{font:800 15px Besley,Georgia,serif;border:2px solid;padding:0 8px}
.count b{font:700 20px Besley,Georgia,serif;letter-spacing:.4px;min-width:8.2em}
.bar_top,.bar_bottom{background:var(--ink);color:#fff;justify-content:center;padding:11px 16px}.bar_top b,.bar_bottom b{text-align:center}
.bar_bottom{position:fixed;inset:auto 0 0;z-index:3}body:has(.bar_bottom){padding-bottom:96px}
.inline{border-top:1px solid;border-bottom:1px solid;padding:10px 0;margin:0 0 22px}.inline b{font-size:26px}
.count.card{display:block;border:2px solid;border-top-width:8px;padding:16px 18px;margin-bottom:22px;height:auto;background:none;width:auto;border-radius:0}.count.card b{display:block;font-size:38px;line-height:1.2}.count.card em{float:right}
.bar_top.firm,.bar_bottom.firm{background:var(--accent)}.inline.firm,.card.firm{color:var(--accent)}
.bar_top.loud,.bar_bottom.loud{background:var(--loss);padding:16px}.bar_top.loud b,.bar_bottom.loud b{font-size:27px}.inline.loud,.card.loud{background:var(--loss)!important;color:#fff;padding:14px 18px;border-color:var(--loss)}
.sheet{max-width:1060px;margin:0 auto;padding:34px 34px 64px}
.kick{display:flex;justify-content:space-between;gap:20px;font-size:14px;border-top:4px solid;border-bottom:1px solid;padding:7px 0}
h1{font:900 68px/1 Besley,Georgia,serif;letter-spacing:-1.1px;margin:26px 0 18px;text-wrap:balance;overflow-wrap:break-word}
h2{font:700 22px/1.2 Besley,Georgia,serif;margin:0 0 10px}
.cols{display:grid;grid-template-columns:1.15fr .85fr;gap:44px;align-items:start}
.lead{font-size:20px;line-height:1.5;max-width:33em;white-space:pre-line}
.fig{aspect-ratio:16/10;background:#1E4E79;position:relative;overflow:hidden}.fig svg{position:absolute;inset:0;width:100%;height:100%}
.block{border-top:4px solid;border-bottom:4px solid;padding:18px 0 20px;margin-top:24px}
.price{font:800 44px/1 Besley,Georgia,serif;display:flex;flex-wrap:wrap;gap:6px 12px;align-items:baseline}.claims{font-weight:600;margin-top:8px}.price small{font:500 15px/1.35 Archivo,sans-serif;color:var(--ink3)}
.go{display:block;width:100%;text-align:center;background:var(--accent);color:#fff;font:700 19px/1.25 Archivo,sans-serif;padding:15px;margin-top:16px;text-decoration:none;border-radius:3px;border:0;cursor:pointer}
.go:hover{filter:brightness(.92)}.go[disabled]{opacity:.6;cursor:wait}
.plain{display:block;width:100%;background:none;border:2px solid var(--ink);border-radius:3px;font:600 17px/1.25 Archivo,sans-serif;color:var(--ink);padding:13px;margin-top:12px;cursor:pointer;text-align:center}
.fine{font-size:14px;color:var(--ink2);margin-top:10px}
label{display:block;font-weight:600;font-size:15px;margin-top:14px}
label.tick{display:flex;gap:10px;align-items:flex-start;font-weight:400;line-height:1.4}.tick input{width:20px;height:20px;margin:1px 0 0;flex:none}
input[type=text],input[type=email],select{width:100%;font:400 17px Archivo,sans-serif;color:var(--ink);padding:11px 12px;border:1px solid var(--ink2);border-radius:3px;background:#fff;margin-top:4px;min-height:46px}
:focus-visible{outline:3px solid #3C4C9A;outline-offset:2px}
.wrong{color:var(--loss);font-size:15px;font-weight:600;margin-top:4px}
.notice{border-left:5px solid var(--ink);background:#EFEDE2;padding:12px 14px;margin-top:18px}.notice.loss{border-color:var(--loss)}.notice p+p{margin-top:4px}
table{width:100%;border-collapse:collapse;font-size:16px}td,th{padding:8px 0;border-bottom:1px solid #CFCDBF;text-align:left;vertical-align:top;font-weight:400}td:last-child,th:last-child{text-align:right;white-space:nowrap;padding-left:14px}tr.sum td,tr.sum th{font-weight:700;border-bottom:0}
.cardfield{border:1px solid var(--ink2);border-radius:3px;width:100%;height:176px;background:#fff;margin-top:4px;display:block}
.who{margin-top:14px;display:flex;justify-content:space-between;gap:12px;font-size:15px}
.hp{position:absolute;left:-9999px}.sr{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)}
a{color:inherit}
@media(max-width:700px){h1{font-size:40px;letter-spacing:-.5px;margin:18px 0 12px}.cols{grid-template-columns:1fr;gap:22px}.sheet{padding:20px 18px 40px}.lead{font-size:18px}.kick span+span{display:none}.bar_top,.bar_bottom{flex-direction:column;align-items:center;text-align:center}.count b{min-width:0}body:has(.bar_bottom){padding-bottom:170px}.price{font-size:38px}.form-first .fig{order:2}}
@media(prefers-reduced-motion:reduce){*{transition:none!important}}
`.replace(/\n/g, "");
