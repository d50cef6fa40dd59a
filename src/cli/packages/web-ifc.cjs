// The converter takes this package from here: imported as a module its six megabytes would be looked through twice
// before they are run, which takes half a second.
const name = 'web-ifc';
module.exports = require(name);
