import { Project } from './src/core/project'
import { LearnedVocabulary, planClasses, changeClassList } from './src/core/utility'
import { applySplices } from './src/core/text'
import { readFileSync, readdirSync } from 'node:fs'
for (const f of ['.corpus/startbootstrap-sb-admin-2/css/sb-admin-2.css','.corpus/tachyons/css/tachyons.css','.corpus/bulma/css/bulma.css','demo/brinewick/css/pages.css']) {
  const p = new Project([{key:1,path:'a.css',bytes:readFileSync(f)}])
  const t=performance.now()
  const v = LearnedVocabulary.of(p)
  console.log(f, v?.all().length, (performance.now()-t).toFixed(0)+'ms', v?.all().slice(0,400).join(' ').slice(0,600))
  if (!v) continue
  for (const [list,prop,val] of [['card mb-4 shadow','margin-bottom','1.5rem'],['card mb-4 shadow','margin-bottom','3rem'],['d-flex mb-4','display','none'],['pa3 flex','padding','4rem'],['p-3','padding-left','0.25rem'],['pa3','padding-left','.25rem'],['mb-4','margin-bottom','13px']]) { const r=planClasses(v,list,'',false,[{property:prop,value:val}]); console.log(list,prop,val,'→',r.ok?applySplices(list,changeClassList(list,r.change)):r.why) }
}
