# The mean of what the seeing monitor wrote in a night: one value a line.
{ sum += $1 }
END { if (NR > 0) print sum / NR }
