// Prints how each test of a report ended.
const text = await new Response(process.stdin).text()
const report = JSON.parse(text.slice(text.indexOf('{')))
for (const t of report.testResults.flatMap((f) => f.assertionResults).map((a) => a.status + ' ' + a.fullName).sort()) console.log(t)
if (report.numPassedTests === 0) throw new Error('no test passes')
