import { renderPicture, planRender, createPlainRecipe, createPlainColor, buildColorTable } from '@apodix/core';
const W=3200,H=2400; const levels=Uint8Array.from({length:W*H*3},(_,i)=>(i*37+(i>>9))&255);
const src={widthPx:W,heightPx:H,most:255 as const,levels};
const {picture}=createPlainRecipe();
const flatten={corners:[{x:.1,y:.05},{x:.9,y:.12},{x:.95,y:.9},{x:.04,y:.97}] as never,aspect:1.33};
const light:any={corners:null,sides:[[1,.1,.1,0,0,0],[1,.1,.1,0,0,0],[1,.1,.1,0,0,0]],power:1,floor:[0,0,0]};
const color={...createPlainColor(),white:{kelvin:3200,tint:0},exposure:.3};
const size={widthPx:2000,heightPx:1500};
for (const [name,w] of [['flat',{...picture,flatten}],['flat+light',{...picture,flatten,light}],['flat+color',{...picture,flatten,color}],['all',{...picture,flatten,light,color}]] as const){
  const inp=planRender(src,w as any,size).fill(src);
  renderPicture(inp); const t=performance.now(); renderPicture(inp); renderPicture(inp); console.log(name,((performance.now()-t)/2).toFixed(0));
}
