<!DOCTYPE html>
<html lang="en">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>This link has ended</title></head>
<body style="margin: 0; padding: 2rem; background: #f6f5f0; color: #1b2430; font: 16px/1.5 system-ui, sans-serif">
<h1 style="font-size: 1.4rem">This link does not work</h1>
<p>It has expired, was taken back, or was not copied whole. Ask whoever sent it for a new one.</p>
</body>
</html>
