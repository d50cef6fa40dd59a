import { STATES, TYPES, URGENCIES, type Issue } from './issues';

/** As plain as can be: it plays an outside service and must not look like Yurta. */
const STYLE = `body{font:15px/1.5 system-ui,sans-serif;max-width:1000px;margin:40px auto;padding:0 16px;color:#123}
h1{font-size:24px}input,select,textarea,button{font:inherit;padding:6px}textarea{width:100%;box-sizing:border-box}
article{border:1px solid #ccd;padding:12px;margin:12px 0}li{margin:4px 0}.gone{opacity:.5}`;

/** All issues, each with fields to change it and to add a note. */
export function trackerPage(issues: readonly Issue[], token: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Sample tracker</title><style>${STYLE}</style><main><h1>Sample tracker</h1>
<p>Plays an issue tracker. Its token for programs is <code id="token">${escape(token)}</code>.</p>
<form id="new"><label>New issue <textarea name="body" rows="2" required></textarea></label> <button>Make</button></form>
${[...issues].reverse().map(issueForm).join('')}
<p id="said" role="alert"></p></main>
<script>const token=${JSON.stringify(token)};
const send=async(method,path,body)=>{const answer=await fetch(path,{method,headers:{Authorization:'Bearer '+token,'Content-Type':'application/json'},body:JSON.stringify(body)});
if(answer.ok)location.reload();else document.getElementById('said').textContent=await answer.text()};
for(const form of document.forms)form.onsubmit=(event)=>{event.preventDefault();const values=Object.fromEntries(new FormData(form,event.submitter));
const id=form.dataset.issue;if(form.id==='new')return send('POST','/issues',values);
if(form.dataset.kind==='note')return send('POST','/issues/'+id+'/notes',values);
const gone=values.act==='delete'?{deleted:true}:values.act==='restore'?{deleted:false}:{};delete values.act;send('PATCH','/issues/'+id,{...values,...gone})}</script></html>`;
}

function issueForm({ id, body, type, state, owner, due, urgency, deleted, link, notes }: Issue): string {
  const select = (name: string, values: readonly string[], chosen: string) =>
    `<label>${name} <select name="${name}">${values.map((one) => `<option${one === chosen ? ' selected' : ''}>${one}</option>`).join('')}</select></label>`;
  return `<article id="issue-${id}"${deleted ? ' class="gone"' : ''}><form data-issue="${id}"><b>Issue ${id}</b>${deleted ? ' (deleted)' : ''}
<textarea name="body" rows="2" aria-label="Text of issue ${id}">${escape(body)}</textarea>
${select('type', TYPES, type)} ${select('state', STATES, state)} ${select('urgency', URGENCIES, urgency)}
<label>owner <input name="owner" value="${escape(owner)}"></label> <label>due <input type="date" name="due" value="${escape(due)}"></label>
<button name="act" value="save">Save</button> <button name="act" value="${deleted ? 'restore' : 'delete'}">${deleted ? 'Bring back' : 'Delete'}</button>
${link ? `<a href="${escape(link)}">Where it belongs</a>` : ''}</form>
<ul>${notes.map((one) => `<li><b>${escape(one.author)}</b> ${escape(one.text)}</li>`).join('')}</ul>
<form data-issue="${id}" data-kind="note"><input name="text" aria-label="Note on issue ${id}" required> <input name="author" value="Tracker" aria-label="By"> <button>Add note</button></form></article>`;
}

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
}
