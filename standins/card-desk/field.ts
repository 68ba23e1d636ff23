import { safe, type Call, type Reply } from "../shared/server";

/** The card field that a shop shows in a frame. It speaks with the one page that framed it, and gives it a token, never a number. */
export const fieldPage = (call: Call): Reply => {
  const parent = call.url.searchParams.get("parent") ?? "";
  if (!/^https?:\/\/[\w.:-]+$/.test(parent))
    return { status: 400, html: "<!doctype html><p>The page that shows this field did not say who it is.</p>" };
  const html = `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Card</title><style>
*{box-sizing:border-box;margin:0}body{font:16px/1.4 system-ui,sans-serif;color:#22252b;padding:14px;background:#fff}label{display:block;font-size:14px;font-weight:600}
input{width:100%;font:17px system-ui;padding:9px 10px;border:1px solid #757a84;border-radius:3px;margin:3px 0 10px}.two{display:grid;grid-template-columns:1fr 1fr;gap:12px}</style></head>
<body><form id="card"><label>Card number<input id="number" inputmode="numeric" autocomplete="cc-number" maxlength="23"></label>
<div class="two"><label>Expiry, MM/YY<input id="expiry" inputmode="numeric" autocomplete="cc-exp" maxlength="5"></label><label>Security code<input id="cvc" inputmode="numeric" autocomplete="cc-csc" maxlength="4"></label></div></form>
<script>
const parentOrigin=${JSON.stringify(safe(parent))};const el=id=>document.getElementById(id);
const tell=message=>parent.postMessage(message,parentOrigin);let asking=false;
const ask=async()=>{if(asking)return;asking=true;try{const r=await fetch('/field/tokens',{method:'POST',headers:{'content-type':'application/json'},body:JSON.stringify({number:el('number').value,expiry:el('expiry').value,cvc:el('cvc').value})});
const a=await r.json();tell(r.ok?{cardToken:a.token}:{cardError:a.error})}catch{tell({cardError:'The card processor does not answer. Nothing was charged; try again.'})}finally{asking=false}};
addEventListener('message',e=>{if(e.origin===parentOrigin&&e.data&&e.data.ask==='cardToken')ask()});
el('card').addEventListener('submit',e=>{e.preventDefault();ask()});
</script></body></html>`;
  return { html, headers: { "content-security-policy": `frame-ancestors ${parent}` } };
};
