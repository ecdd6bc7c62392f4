<style>
    body { margin: 0; background: #f6f5f0; color: #1b2430; font: 16px/1.5 system-ui, sans-serif; }
    main { max-width: 58rem; margin: 0 auto; padding: 1.5rem 1.25rem 4rem; }
    h1 { font-size: 1.6rem; margin: 0 0 .25rem; } h2 { font-size: 1.15rem; margin: 2rem 0 .5rem; border-top: 1px solid #d9d6cc; padding-top: 1rem; }
    pre { background: #fff; border: 1px solid #d9d6cc; padding: .9rem; overflow-x: auto; font-size: .86rem; line-height: 1.45; }
    table { border-collapse: collapse; width: 100%; } th, td { text-align: left; vertical-align: top; padding: .3rem .75rem .3rem 0; border-bottom: 1px solid #d9d6cc; }
    td:first-child { overflow-wrap: anywhere; } .soft { color: #5a6472; } a { color: #0f6b8a; } li { margin: .3rem 0; } .figure { font-size: 1.25rem; font-weight: 600; }
</style>
