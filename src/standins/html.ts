import { escapeHtml as escape } from '../core/text/plain';

export { escape };

const style = `
body{font:15px/1.5 Georgia,'Times New Roman',serif;margin:0;color:#222;background:#f3f1ee}
header{background:#33413a;color:#fff;padding:10px 24px;display:flex;gap:20px;align-items:baseline}header a{color:#d7e3db}header b{font-size:18px}
main{max-width:860px;margin:22px auto;background:#fff;padding:20px 28px;border:1px solid #d5d0c8}
table{border-collapse:collapse;width:100%}th,td{text-align:left;padding:6px 10px 6px 0;border-bottom:1px solid #e2ddd5;vertical-align:top}.r{text-align:right}
input,select,button{font:inherit;padding:5px 8px}button{background:#33413a;color:#fff;border:0;cursor:pointer}button.q{background:#e7e2da;color:#222}
form.line{display:flex;gap:10px;align-items:end;flex-wrap:wrap;margin:10px 0}label{display:flex;flex-direction:column;gap:2px;font-size:13px;color:#444}label.check{flex-direction:row;align-items:center;font-size:15px;gap:8px}
pre{white-space:pre-wrap;background:#f7f5f2;border:1px solid #e2ddd5;padding:10px;font-size:12.5px;overflow-wrap:anywhere}.bad{color:#8e1f2f}.note{color:#555;font-size:13.5px}`;

/** A page of a stand-in. `body` is HTML that the caller made safe. */
export function page(place: string, title: string, body: string, head = ''): string {
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escape(title)}</title><style>${style}</style>${head}</head>
<body><header><b>${escape(place)}</b><a href="/">Shop</a><a href="/coupons">Shop’s coupons</a><a href="/switches">Shop’s switches</a><a href="/mailroom">Mail room</a><a href="/bank">Bank</a></header><main><h1>${escape(title)}</h1>${body}</main></body></html>`;
}
