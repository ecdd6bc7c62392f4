/** All that the Loupe looks like; the page's own styles end at its shadow root, and these do as well. */
export const CSS = `
:host { all: initial; }
* { box-sizing: border-box; margin: 0; }
.loupe { font: 14px/1.45 system-ui, sans-serif; color: #1b2430; text-align: left; }
.loupe button, .loupe select, .loupe input { font: inherit; color: inherit; }
.sheet { position: fixed; z-index: 2147483647; background: #f6f5f0; border: 0 solid #1b2430; display: flex; flex-direction: column; }
.sheet.bottom { left: 0; right: 0; bottom: 0; height: min(300px, 45vh); border-top-width: 3px; }
.sheet.top { left: 0; right: 0; top: 0; height: min(300px, 45vh); border-bottom-width: 3px; }
.sheet.left { left: 0; top: 0; bottom: 0; width: min(380px, 90vw); border-right-width: 3px; }
.sheet.right { right: 0; top: 0; bottom: 0; width: min(380px, 90vw); border-left-width: 3px; }
.sheet.low { height: auto; }
.handle { position: fixed; z-index: 2147483647; background: #1b2430; color: #fff; border: 0; padding: 8px 12px; cursor: pointer; font: 14px system-ui, sans-serif; }
.handle.bottom { left: 16px; bottom: 0; } .handle.top { left: 16px; top: 0; }
.handle.left { left: 0; top: 40%; } .handle.right { right: 0; top: 40%; }
.bar { display: flex; flex-wrap: wrap; align-items: center; gap: 4px 14px; background: #1b2430; color: #fff; padding: 4px 12px; }
.bar .who { color: #d9d6cc; font-size: 13px; margin-right: auto; }
.bar [role=tablist] { display: flex; gap: 14px; }
.bar button { background: none; border: 0; border-bottom: 2px solid transparent; color: #fff; padding: 4px 2px; cursor: pointer; }
.bar button[aria-selected=true] { border-bottom-color: #fff; font-weight: 600; }
.body { overflow: auto; padding: 10px 14px 14px; flex: 1; }
.fields { display: flex; flex-wrap: wrap; gap: 12px 28px; align-items: flex-start; }
fieldset { border: 0; padding: 0; min-width: 0; }
legend, .label { font-size: 13px; color: #5a6472; padding: 0; margin-bottom: 2px; display: block; }
label.choice { display: flex; gap: 6px; align-items: baseline; padding: 1px 0; cursor: pointer; }
input { accent-color: #0f6b8a; }
select { background: #fff; border: 1px solid #7a7f87; padding: 3px 6px; }
.plain { background: #fff; border: 1px solid #7a7f87; padding: 3px 10px; cursor: pointer; }
a.plain { display: inline-block; color: #0f6b8a; }
.soft { color: #5a6472; font-size: 13px; }
.mono { font-family: ui-monospace, monospace; font-size: 12.5px; overflow-wrap: anywhere; }
h2 .soft { font-weight: 400; }
h2 { font-size: 15px; font-weight: 600; margin: 12px 0 4px; } h2:first-child { margin-top: 0; }
h3 { font-size: 14px; font-weight: 600; margin: 8px 0 2px; }
table { border-collapse: collapse; width: 100%; background: #fff; }
th, td { text-align: left; vertical-align: top; border-bottom: 1px solid #d9d6cc; padding: 3px 10px 3px 6px; font-size: 13px; }
th { color: #5a6472; font-weight: 400; }
ul { padding-left: 18px; }
.mark { display: inline-block; width: 1.1em; font-weight: 700; }
.holds { color: #1f7a4d; } .doubt { color: #8a5800; } .broken { color: #b3261e; } .unseen { color: #5a6472; }
.cover { position: fixed; inset: 0; z-index: 2147483646; background: #e9e7df; display: flex; justify-content: center; overflow: auto; }
.cover.bottom { bottom: min(300px, 45vh); } .cover.top { top: min(300px, 45vh); }
.cover.left { left: min(380px, 90vw); } .cover.right { right: min(380px, 90vw); }
.cover iframe { border: 0; background: #fff; height: 100%; flex: none; outline: 1px solid #7a7f87; }
.outline.chosen { outline: 2px solid #0f6b8a; }
.drop { position: fixed; z-index: 2147483645; pointer-events: none; background: #0f6b8a; }
.loupe textarea { font: inherit; color: inherit; }
.loupe .mono { font-family: ui-monospace, monospace; font-size: 12.5px; }
input:not([type]), textarea { background: #fff; border: 1px solid #7a7f87; padding: 3px 6px; }
.wide { width: 100%; } .short { width: 92px; }
.columns { display: grid; grid-template-columns: minmax(0, 3fr) minmax(0, 2fr); gap: 10px; }
.bottom .body:has(.columns), .top .body:has(.columns) { overflow: hidden; padding: 0; }
.bottom .columns, .top .columns { height: 100%; }
.bottom .columns > *, .top .columns > * { overflow: auto; padding: 8px 14px 14px; }
.left .columns, .right .columns { grid-template-columns: minmax(0, 1fr); }
.tools { display: flex; flex-wrap: wrap; gap: 4px 6px; align-items: center; margin: 4px 0; }
.loupe .link { background: none; border: 0; padding: 0 2px; color: #0f6b8a; text-decoration: underline; text-underline-offset: 3px; cursor: pointer; font-size: 13px; }
.main { background: #0f6b8a; color: #fff; border: 1px solid #0f6b8a; padding: 3px 12px; cursor: pointer; }
.loupe .main { color: #fff; }
button:disabled { opacity: .45; cursor: default; }
button[aria-pressed=true] { background: #1b2430; color: #fff; }
.loupe button.plain[aria-pressed=true] { color: #fff; }
.note { border-left: 3px solid #8a5800; padding-left: 8px; margin: 4px 0; }
.form > .tools { position: sticky; bottom: -14px; background: #f6f5f0; padding: 4px 0; }
.form { border-left: 3px solid #0f6b8a; padding-left: 10px; display: grid; gap: 6px; margin: 6px 0; }
.steps { padding-left: 26px; } .steps li { border-bottom: 1px solid #d9d6cc; padding: 3px 0; } .steps .off .what { color: #5a6472; text-decoration: line-through; }
.steps p { font-size: 13px; }
.what { overflow-wrap: anywhere; }
.rows { list-style: none; padding: 0; }
.styles { display: flex; flex-wrap: wrap; gap: 4px 14px; padding: 4px 0 6px; }
.styles legend { font-weight: 600; color: #1b2430; }
.changed { border-left: 3px solid #0f6b8a; padding-left: 5px; }
.pair { display: inline-flex; gap: 3px; align-items: center; }
.pair input[type=color] { width: 30px; height: 28px; padding: 0; border: 1px solid #7a7f87; background: #fff; }
.hidden { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
.outline { position: fixed; z-index: 2147483645; pointer-events: none; outline: 2px dashed #b3261e; outline-offset: 2px; }
summary { cursor: pointer; }
.sheet:focus { outline: none; }
.body:focus-visible { outline-offset: -3px; }
.time { white-space: nowrap; }
:focus-visible { outline: 2px solid #0f6b8a; outline-offset: 2px; }
.bar :focus-visible { outline-color: #fff; }
`;
