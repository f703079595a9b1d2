import { heldOtherwise, playsOtherwise } from '../packages/demo/src/memoryRuns.test-support';
let bad = 0;
for (let s = 1; s <= 10000; s++) { const f = heldOtherwise(s); if (f) { bad++; console.log('held', s, f); } }
console.log('held done', bad);
bad = 0;
for (let s = 1; s <= 1000; s++) { const { failed: f } = playsOtherwise(s); if (f) { bad++; if (bad < 10) console.log(f); } }
console.log('plays done', bad);
