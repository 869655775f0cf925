import { proposeColor, estimateLight, buildColorLook, convertRgb8ToLab, measureDeltaE, describeNeutral } from '@apodix/core';
import { buildColorScene, measureLamp } from '../packages/core/src/test-support/color-scene.ts';
const kinds=['hall','room','stage','studio','gym'] as const;
const cmp=(a:any,b:any)=>{let s=0,n=0;for(let i=0;i<a.length;i+=15){s+=measureDeltaE(convertRgb8ToLab(a[i],a[i+1],a[i+2]),convertRgb8ToLab(b[i],b[i+1],b[i+2]));n++}return s/n};
const app=(p:Uint8Array,st:any)=>{const l=buildColorLook(st);const o=new Uint8Array(p.length);for(let i=0;i<p.length;i+=15){const r=l([p[i]/255,p[i+1]/255,p[i+2]/255]);o[i]=Math.round(r[0]*255);o[i+1]=Math.round(r[1]*255);o[i+2]=Math.round(r[2]*255)}return o};
for (const k of [2500,2900,3500,6504]) for (const stops of [0,-2]) {
 const lamp={kind:'black-body',kelvin:k} as const; const true_=describeNeutral(measureLamp(lamp));
 for (const kind of kinds){ let d:any={}; let t=[0,0,0,0,0]; let ex=0, errs:number[]=[];
 for(let s=1;s<=6;s++){const sc=buildColorScene(s,kind,lamp,stops);const e=estimateLight({...sc,rgb:sc.recorded}); const p=proposeColor({...sc,rgb:sc.recorded});
  t[0]+=cmp(sc.recorded,sc.truth)/6; if(p){t[1]+=cmp(app(sc.recorded,p.settings),sc.truth)/6; t[2]+=cmp(app(sc.recorded,{...p.settings,exposure:-stops,highlights:0,shadows:0}),sc.truth)/6; t[3]+=cmp(app(sc.recorded,{...p.settings,white:k===6504?null:{kelvin:Math.max(1700,true_.kelvin),tint:true_.tint}}),sc.truth)/6; ex+=p.settings.exposure/6} else {t[1]+=cmp(sc.recorded,sc.truth)/6}
  errs.push(Math.round(1e6/(e?.light.kelvin??1)-1e6/true_.kelvin)); d[e?.by??'none']=(d[e?.by??'none']??0)+1}
 console.log(k,stops,kind,'rec',t[0].toFixed(1),'auto',t[1].toFixed(1),'trueExp',t[2].toFixed(1),'trueWhite',t[3].toFixed(1),'exp',ex.toFixed(2),errs.join(','),JSON.stringify(d))}}
