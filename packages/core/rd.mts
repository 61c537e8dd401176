import { readText } from './src/reading/index.ts';
console.log(JSON.stringify(readText(process.argv[2]!.replaceAll('\\n','\n').replaceAll('\\t','\t')), (k,v)=> k==='at'?undefined:v, 0));
