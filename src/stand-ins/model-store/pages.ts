import type { Shelf, ShelfFile } from './shelf';

/** The two pages of the model store, as plain as can be: they play an outside service and must not look like Yurta. */

const STYLE = `body{font:16px/1.5 system-ui,sans-serif;max-width:720px;margin:48px auto;padding:0 16px;color:#123}
h1{font-size:24px}button{font:inherit;padding:10px 18px;min-height:44px}table{width:100%;border-collapse:collapse}
td,th{text-align:left;padding:8px;border-bottom:1px solid #ccd}a{color:#045}`;

function page(title: string, content: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escape(title)}</title><style>${STYLE}</style><main>${content}</main></html>`;
}

/** Asks whether a program may read the files. @param query what the program came with, handed on with the answer */
export function consentPage(program: string, person: string, query: URLSearchParams): string {
  const hidden = [...query]
    .map(([name, value]) => `<input type="hidden" name="${escape(name)}" value="${escape(value)}">`)
    .join('');
  return page(
    'Sample store: allow access',
    `<h1>Allow ${escape(program)} to read your files?</h1>
<p>You are signed in to the sample store as <b>${escape(person)}</b>. ${escape(program)} will see folders, files and
their versions. It cannot change anything. You can take this back at any time.</p>
<form method="post" action="/authorize">${hidden}
<button name="answer" value="allow">Allow</button> <button name="answer" value="deny">Do not allow</button></form>`,
  );
}

/** All files of the store with a field for new versions. */
export function shelfPage(shelf: Shelf): string {
  const rows = listAll(shelf, 'root').map(({ path, file }) => {
    const { number, at, bytes } = file.versions.at(-1)!;
    return `<tr><td>${escape([...path, file.name].join(' / '))}</td><td>version ${number}</td>
<td>${(bytes / 1e6).toFixed(2)} MB</td><td>${escape(at.slice(0, 16).replace('T', ' '))}</td></tr>`;
  });
  return page(
    'Sample store',
    `<h1>Sample store</h1><p>Plays a model store in the cloud. A file with a name that is there already becomes its next
version.</p><table><tr><th>File</th><th>Version</th><th>Size</th><th>Changed (UTC)</th></tr>${rows.join('')}</table>
<p><label>Folder <input id="folder" value="Town library"></label>
<label>File <input id="file" type="file"></label> <button id="send">Store</button></p><p id="said" role="status"></p>
<script>document.getElementById('send').onclick=async()=>{const file=document.getElementById('file').files[0];
if(!file)return;const folder=document.getElementById('folder').value;
const answer=await fetch('/shelf?'+new URLSearchParams({folder,name:file.name}),{method:'POST',body:file});
if(answer.ok)location.reload();else document.getElementById('said').textContent=await answer.text()}</script>`,
  );
}

function listAll(shelf: Shelf, folder: string): { path: string[]; file: ShelfFile }[] {
  const path = shelf.pathTo(folder).slice(1);
  return [
    ...shelf.filesIn(folder).map((file) => ({ path: path.map(({ name }) => name), file })),
    ...shelf.foldersIn(folder).flatMap(({ id }) => listAll(shelf, id)),
  ];
}

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
}
