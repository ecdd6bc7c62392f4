<h1>There is no such page</h1>
<p><a href="/catalogue">The catalogue</a> is a good place to go on from.</p>
<?php return 'Not found';
