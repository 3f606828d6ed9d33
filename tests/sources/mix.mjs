// Mixes pairs of hex colours in equal parts by spectral.js (MIT): a second opinion on hue. Pairs in, mixtures out, as JSON.
import { Color, mix } from "../../web/node_modules/spectral.js/spectral.js";

let text = "";
for await (const part of process.stdin) text += part;
const mixed = JSON.parse(text).map(([one, other]) => mix([new Color(one), 1], [new Color(other), 1]).toString());
console.log(JSON.stringify(mixed));
