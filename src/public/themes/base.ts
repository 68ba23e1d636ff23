/** What every theme shares: the bones of blocks, in steps of space, for three widths. Themes add their type and lines. */
export const baseCss = `
*{box-sizing:border-box;margin:0}
html{-webkit-text-size-adjust:100%}
body{background:var(--paper);color:var(--ink);font:17px/1.55 var(--text);font-variant-numeric:tabular-nums}
a{color:inherit}img,video,iframe{display:block;max-width:100%;border:0}
:focus-visible{outline:3px solid var(--focus);outline-offset:2px}
.sec{background:var(--paper);color:var(--ink)}
.in{max-width:1060px;margin:0 auto;padding-inline:34px}.w-narrow .in{max-width:708px}.w-full .in{max-width:none}
.p1 .in{padding-block:18px}.p2 .in{padding-block:36px}.p3 .in{padding-block:76px}
.g-sunk{--paper:var(--sunk)}
.g-second{--paper:var(--second);--ink:var(--onsecond);--ink2:var(--onsecond);--ink3:var(--onsecond);--words:var(--secondwords);--wrong:var(--onsecond);--hair:currentColor}
.g-accent{--paper:var(--accent);--ink:var(--onaccent);--ink2:var(--onaccent);--ink3:var(--onaccent);--words:var(--onaccent);--wrong:var(--onaccent);--hair:currentColor}
.s0{margin-top:0}.s1{margin-top:12px}.s2{margin-top:24px}.s3{margin-top:52px}.in>.b:first-child,.col>.b:first-child{margin-top:0}
.kick{display:flex;justify-content:space-between;align-items:center;gap:20px;font-size:14px;padding-block:7px}.kick img{max-height:44px;width:auto}
.c{text-align:center}h1,h2,h3{font-family:var(--title);text-wrap:balance;overflow-wrap:break-word;font-variant-numeric:normal}
h2{font-size:30px;line-height:1.15}h3{font-size:20px;line-height:1.25}
.rt>*+*{margin-top:.8em}.rt ul,.rt ol{padding-left:1.3em}.rt h3{margin-top:1.2em}.rt blockquote{border-left:4px solid var(--words);padding-left:16px}.rt a{color:var(--words)}
.z-small{font-size:15px}.z-large{font-size:20px;line-height:1.5;max-width:34em}
.cols{display:grid;grid-template-columns:repeat(var(--n,2),minmax(0,1fr));gap:24px 44px;align-items:start}.n3{--n:3}.r-left{grid-template-columns:minmax(0,1.25fr) minmax(0,.75fr)}.r-right{grid-template-columns:minmax(0,.75fr) minmax(0,1.25fr)}
figure img{width:100%;height:auto}figcaption{font-size:14px;color:var(--ink3);margin-top:6px}
.cut img{object-fit:cover;object-position:var(--fx,50%) var(--fy,50%);height:auto}.a-wide img{aspect-ratio:16/9}.a-square img{aspect-ratio:1}.a-tall img{aspect-ratio:3/4}
.fx0{--fx:0%}.fx1{--fx:25%}.fx2{--fx:50%}.fx3{--fx:75%}.fx4{--fx:100%}.fy0{--fy:0%}.fy1{--fy:25%}.fy2{--fy:50%}.fy3{--fy:75%}.fy4{--fy:100%}
.film{position:relative;display:block;background:#0B0E13;aspect-ratio:16/9;overflow:hidden}.film video,.film img{width:100%;height:100%;object-fit:cover}
.press::after{content:"";position:absolute;inset:0;margin:auto;width:84px;height:84px;border-radius:50%;background:var(--accent) linear-gradient(var(--onaccent),var(--onaccent)) 50%/0 0 no-repeat;box-shadow:0 0 0 3px var(--onaccent)}
.press::before{content:"";position:absolute;z-index:1;inset:0;margin:auto;width:0;height:0;translate:4px 0;border-left:28px solid var(--onaccent);border-block:17px solid transparent}
.go,.plain{display:block;width:100%;text-align:center;font:700 18px/1.25 var(--text);padding:15px;border-radius:var(--round);cursor:pointer;text-decoration:none;border:2px solid transparent}
.go{background:var(--accent);color:var(--onaccent)}.go small{display:block;font:500 14px/1.3 var(--text)}.g-second .go,.g-accent .go{border-color:currentColor}.g-accent .go{background:var(--second);color:var(--onsecond)}
.plain{background:none;border-color:currentColor;color:var(--ink);font-weight:600;font-size:17px;padding:13px}
.go:hover{filter:brightness(.92)}.go[disabled]{opacity:.6;cursor:wait}a[data-when]{opacity:.75;cursor:default}a[data-when]::after{content:" · " attr(data-when);font-weight:500}
.fine{font-size:14px;color:var(--ink2);margin-top:10px}
td.less{text-align:left!important;padding-left:0!important;font-size:14px}.code summary,.more summary{cursor:pointer;font-size:15px;margin-top:14px}.code .plain{margin-top:8px}.aslink{border:0;background:none;padding:0;font:inherit;color:inherit;text-decoration:underline;cursor:pointer}
.box>*+*{margin-top:14px}
.price{display:flex;flex-wrap:wrap;gap:6px 12px;align-items:baseline;font:800 44px/1 var(--title);font-variant-numeric:normal}.price small{font:500 15px/1.35 var(--text);color:var(--ink3)}.claims{font-weight:600}
.seats{font-weight:600}.seats b{font:800 22px var(--title)}
.ben{list-style:none;padding:0;display:grid;gap:10px}.ben li{position:relative;padding-left:30px}.m-stitch li::before{content:"";position:absolute;left:4px;top:.42em;width:7px;height:13px;border:solid var(--words);border-width:0 3px 3px 0;rotate:42deg}
.m-number{counter-reset:n}.m-number li{counter-increment:n}.m-number li::before{content:counter(n);position:absolute;left:0;font:800 1.05em var(--title);color:var(--words)}.m-rule li{padding:8px 0 0;border-top:1px solid var(--hair)}
.qa{display:grid;grid-template-columns:repeat(auto-fit,minmax(min(300px,100%),1fr));gap:20px 44px}.qa dt,.qf summary{font-weight:700}.qa dd{margin:4px 0 0;white-space:pre-line}.qf details{border-top:1px solid var(--hair);padding:12px 0}.qf p{margin-top:6px;white-space:pre-line}.qf summary{cursor:pointer}
.say{display:grid;grid-template-columns:auto 1fr;gap:6px 18px}.say blockquote{grid-column:2;font:500 21px/1.4 var(--title);white-space:pre-line}.say figcaption{grid-column:2}.say img{width:72px;height:72px;object-fit:cover;border-radius:var(--round);grid-row:span 2}
hr{border:0;border-top:1px solid var(--hair)}.l-thick{border-top:4px solid var(--ink)}.l-double{border-top:3px solid var(--ink);border-bottom:1px solid var(--ink);height:6px}
.badges{list-style:none;padding:8px 0;display:flex;flex-wrap:wrap;gap:6px 26px;border-block:1px solid var(--hair);font-size:14px;font-weight:600}
.guar{border:2px solid var(--ink);padding:18px 20px;outline:1px solid var(--ink);outline-offset:3px}.guar p{margin-top:6px;white-space:pre-line}
.own{width:100%}.own.z-small{height:160px}.own.z-normal{height:360px}.own.z-large{height:640px}
label{display:block;font-weight:600;font-size:15px;margin-top:14px}label.tick{display:flex;gap:10px;align-items:flex-start;font-weight:400;line-height:1.4}.tick input{width:20px;height:20px;margin:1px 0 0;flex:none;accent-color:var(--accent)}
input:not([type=checkbox]),select,textarea{width:100%;font:400 17px var(--text);color:var(--fieldink);padding:11px 12px;border:1px solid var(--fieldline);border-radius:var(--round);background:var(--field);margin-top:4px;min-height:46px}
.wrong{display:block;color:var(--wrong);font-size:15px;font-weight:600;margin-top:4px}.wrong:empty{display:none}
.notice{border-left:5px solid var(--fieldink);background:var(--sunk);color:var(--fieldink);padding:12px 14px;margin-top:18px}.notice.loss{border-color:var(--loss)}.notice p+p{margin-top:4px}
table{width:100%;border-collapse:collapse;font-size:16px}td,th{padding:8px 0;border-bottom:1px solid var(--hair);text-align:left;vertical-align:top;font-weight:400}td:last-child,th:last-child{text-align:right;white-space:nowrap;padding-left:14px}tr.sum td,tr.sum th{font-weight:700;border-bottom:0}
.cardfield{border:1px solid var(--fieldline);border-radius:var(--round);width:100%;height:176px;background:#fff;margin-top:4px}
.cardfield~.go,.cardfield~.plain{margin-top:14px}
.order{container-type:inline-size}
.bought summary{display:flex;gap:12px;align-items:center;cursor:pointer;padding:10px 0;border-block:4px solid var(--ink);border-bottom-width:1px}
.bought summary img{width:52px;height:52px;object-fit:cover;border-radius:var(--round);flex:none}
.bought summary span{flex:1;line-height:1.35}.bought summary small{display:block;font-size:14px;color:var(--ink3)}
.bought summary b{font:800 20px var(--title)}
.bought summary::after{content:"";width:9px;height:9px;border:solid;border-width:0 2px 2px 0;rotate:45deg;translate:0 -3px;flex:none}
.bought[open] summary::after{rotate:225deg;translate:0 3px}
.bought .whole{padding-top:12px}.whole>img{width:100%;aspect-ratio:5/2;object-fit:cover;border-radius:var(--round)}.whole>img+h2{margin-top:12px}
.whole h2{font-size:20px}.whole tr.sum td,.whole tr.sum th{font:800 21px var(--title);border-top:2px solid var(--ink)}
.pay{margin-top:18px}.pay>.box{border-block:0;padding:0}
@supports selector(::details-content){@container (min-width:620px){.order>div{display:grid;grid-template-columns:minmax(0,1.3fr) minmax(0,.9fr);gap:0 40px;align-items:start}.pay{grid-row:1;margin-top:0}.bought{border-top:4px solid var(--ink)}.bought summary{display:none}.bought::details-content{content-visibility:visible;display:block;block-size:auto}}}
.who{display:flex;justify-content:space-between;gap:12px;font-size:15px}
.over{border:0;padding:26px 28px;width:min(480px,94vw);max-height:94vh;margin:auto;background:var(--paper);color:var(--ink);box-shadow:0 10px 60px #0008}.over:target{display:block;position:fixed;inset:0;z-index:9;height:fit-content}.over::backdrop{background:#000a}.over .shut{display:block;margin:0 0 8px auto;width:max-content;font-size:14px}.over.frame{width:min(620px,96vw);height:92vh;padding:10px}.over.frame iframe{width:100%;height:calc(100% - 30px)}
.run ol,.talk ol{list-style:none;padding:0;margin-top:10px}.run li{display:flex;flex-wrap:wrap;gap:0 14px;align-items:baseline;padding:9px 0;border-top:1px solid var(--hair)}.run li:last-child{border-bottom:1px solid var(--hair)}.run b{font:800 18px var(--title);min-width:1.2em}.run li>:nth-child(2){flex:1 1 8em}.run em{margin-left:auto;font-style:normal;font-size:14px;text-align:right}.run .now{font-weight:700;box-shadow:inset 4px 0 var(--words);padding-left:12px}.run .shut{color:var(--ink3)}
.trying{padding:9px 34px;background:repeating-linear-gradient(45deg,#F3E3C6 0 12px,#fff 12px 24px);color:#141B26;font:500 15px/1.4 var(--text)}.trying a{color:#141B26}.offered img{width:132px;height:132px;object-fit:cover;border-radius:var(--round)}.price s{font-size:.55em;font-weight:500;opacity:.8}.choice{display:grid;gap:0 16px;grid-template-columns:repeat(auto-fit,minmax(150px,1fr));margin-bottom:6px}.box>.choice{margin:0}
.bump{display:flex;gap:16px;align-items:flex-start;border:1px solid var(--ink);border-left-width:7px;padding:14px 16px}.bump img{width:96px;height:96px;object-fit:cover;border-radius:var(--round)}.bump>div{flex:1}.cross{border:0;border-top:1px solid var(--hair);padding:16px 0}.cross .plain{margin-top:10px}
.talk li{padding:12px 0;border-top:1px solid var(--hair)}.talk li p{white-space:pre-line}.talk .by{font-size:14px;color:var(--ink3)}.talk .by strong{color:var(--ink)}.reply{margin:8px 0 0 18px;padding-left:12px;border-left:3px solid var(--words)}
.trap{position:absolute;left:-9999px}.sr{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)}
.count{display:flex;flex-wrap:wrap;gap:2px 22px;align-items:baseline;font-size:14.5px}.count em:empty{display:none}.count em{font:800 15px var(--title);border:2px solid;padding:0 8px}.count b{font:700 20px var(--title);font-variant-numeric:lining-nums;letter-spacing:.4px;min-width:8.2em}
.bar_top,.bar_bottom{background:var(--second);color:var(--onsecond);justify-content:center;padding:11px 16px}.bar_top b,.bar_bottom b{text-align:center}
.bar_bottom{position:fixed;inset:auto 0 0;z-index:3}body:has(.bar_bottom){padding-bottom:96px}
.inline{border-block:1px solid;padding:10px 0}.inline b{font-size:26px}
.count.card,.count.inline{margin-top:22px}.count.card{display:block;border:2px solid;border-top-width:8px;padding:16px 18px}.count.card b{display:block;font-size:38px;line-height:1.2}.count.card em{float:right}
.bar_top.firm,.bar_bottom.firm{background:var(--accent);color:var(--onaccent)}.inline.firm,.card.firm{color:var(--words)}
.loud{background:var(--loss)!important;color:#fff!important;border-color:var(--loss)}.bar_top.loud,.bar_bottom.loud{padding:16px}.bar_top.loud b,.bar_bottom.loud b{font-size:27px}.inline.loud,.card.loud{padding:14px 18px}
@media(min-width:901px){.hd{display:none!important}}@media(min-width:601px) and (max-width:900px){.ht{display:none!important}}
@media(max-width:600px){.hp{display:none!important}.in{padding-inline:18px}.p2 .in{padding-block:22px}.p3 .in{padding-block:44px}.cols{grid-template-columns:minmax(0,1fr)}.last .col:last-child{order:-1}h2{font-size:25px}.z-large{font-size:18px}.kick span+span{display:none}.bar_top,.bar_bottom{flex-direction:column;align-items:center;text-align:center}.count b{min-width:0}body:has(.bar_bottom){padding-bottom:170px}.price{font-size:38px}.say{grid-template-columns:1fr}.say blockquote,.say figcaption{grid-column:1}.s3{margin-top:34px}}
@media(prefers-reduced-motion:reduce){*{transition:none!important}}
`;
