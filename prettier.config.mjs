/** @type {import('prettier').Config} */
export default { printWidth: 120, singleQuote: true };
