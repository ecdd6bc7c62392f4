<h1>Workshops</h1>
<p class="lead">Learn to restring, re-pad and re-hair. Small groups, large tables.</p>
<ul><li>Strings and pegs, first Saturday of the month</li><li>Pads and corks, second Saturday</li><li>Drum heads, when somebody brings one</li></ul>
<?php return 'Workshops';
