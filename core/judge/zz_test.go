package judge_test
import ("testing";"fmt";"encoding/json";"os";"strconv"
"eventether/core/judge"
"eventether/core/rig/rigtest")
func TestZZ(t *testing.T){
 seed,_:=strconv.ParseUint(os.Getenv("SEED"),10,64)
 d := rigtest.NewDice(seed ^ 0x5eed)
 r:=rigtest.Rig(seed)
 v:=judge.Rig(r)
 id:=os.Getenv("LIM")
 for _,x:=range v.Limits { if x.ID==id { b,_:=json.MarshalIndent(x,""," "); fmt.Println(string(b)) } }
 all := rigtest.Forgettable(r); _=all
 if os.Getenv("ITEM")!="" { it:=r.Item(os.Getenv("ITEM")); b,_:=json.MarshalIndent(it,""," "); fmt.Println(string(b)) }
 for i:=range r.Leads { fmt.Println(r.Leads[i].ID, r.Leads[i].From, r.Leads[i].To, r.Leads[i].Grade) }
 o:=rigtest.Shuffle(r,d); v2:=judge.Rig(o)
 for _,x:=range v2.Limits { if x.ID==id { fmt.Println(x.Says, x.Load, x.Loads) } }
}
func TestZY(t *testing.T){
 seed,_:=strconv.ParseUint(os.Getenv("SEED"),10,64)
 r:=rigtest.Rig(seed)
 id:=os.Getenv("LIM")
 seen:=map[string]bool{}
 for k:=range 200 { o:=rigtest.Shuffle(r,rigtest.NewDice(uint64(k))); v2:=judge.Rig(o)
 for _,x:=range v2.Limits { if x.ID==id && !seen[x.Says] { seen[x.Says]=true; fmt.Println(x.Says, x.Loads[0].Sum); b,_:=json.Marshal(o.Item(os.Getenv("ITEM")).Gear.Delivers); fmt.Println(string(b));b,_=json.Marshal(o.Item(os.Getenv("ITEM")).Set); fmt.Println(string(b)) } } }
}
