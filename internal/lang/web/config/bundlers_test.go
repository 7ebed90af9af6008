package config

import (
	"path"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAliasesOfSettings(t *testing.T) {
	t.Parallel()
	got := func(p, src string) map[string]string {
		out := map[string]string{}
		for _, a := range DefinitionsIn(p, []byte(src)).aliases(path.Dir(p), "web") {
			out[a.Pattern] = a.Targets[0]
		}
		return out
	}
	want := map[string]string{"@": "web/src", "@/*": "web/src/*"}
	assert.Equal(t, want, got("web/vite.config.js",
		"export default { resolve: { alias: { '@': path.resolve(__dirname, './src') } } }"))
	assert.Equal(t, want, got("web/vite.config.js", "export default { resolve: { alias: [{ find: '@', replacement: "+
		"fileURLToPath(new URL('./src', import.meta.url)) }] } }"))
	assert.Equal(t, want, got("web/webpack.config.js",
		"module.exports = { resolve: { alias: { '@': path.join(__dirname, 'src') } } }"))
	for name, src := range map[string]string{
		"a helper": "function resolve (dir) {\n  return path.join(__dirname, '.', dir)\n}\n" +
			"module.exports = { resolve: { alias: { '@': resolve('src') } } }",
		"a helper of one line": "const resolve = dir => path.join(__dirname, dir)\n" +
			"module.exports = { chainWebpack(config) { config.resolve.alias.set('@', resolve('src')) } }",
		"a helper from the working folder": "const pathResolve = (dir: string): string => {\n" +
			"  return resolve(process.cwd(), '.', dir)\n}\nexport default ({ mode }) => {\n const x = 1\n" +
			" return defineConfig({ resolve: { alias: [{ find: '@', replacement: pathResolve('src') }] } })\n}",
		"a chain": "module.exports = { chainWebpack: config => { config.resolve.alias.set('@', " +
			"path.join(__dirname, 'src')).set('vue$', 'x.js') } }",
		"a constant": "const src = path.resolve(__dirname, 'src')\n" +
			"module.exports = { resolve: { alias: { '@': src, y: 1 } } }",
		"a plugin": "module.exports = { plugins: [['module-resolver', { root: ['.'], alias: { '@': './src' } }]] }",
	} {
		out := got("web/vue.config.js", src)
		assert.Equal(t, "web/src", out["@"], name)
	}
	assert.Equal(t, "src", got("build/webpack.base.conf.js",
		"function resolve (dir) {\n  return path.join(__dirname, '..', dir)\n}\n"+
			"module.exports = { resolve: { alias: { '@': resolve('src') } } }")["@"], "a helper with a step up")
	assert.Equal(t, map[string]string{"@/*": "web/src/*"}, got("web/vite.config.ts", "export default { resolve: { "+
		"alias: [{ find: /^@\\//, replacement: pathResolve('src') + '/' }] } }\n"+
		"function pathResolve(dir: string) { return resolve(__dirname, '.', dir) }"))
	assert.Equal(t, map[string]string{"@/*": "src/*", "x": "y.js"}, func() map[string]string {
		out := got("package.json",
			`{"jest": {"moduleNameMapper": {"^@/(.*)$": "<rootDir>/src/$1", "^x$": "<rootDir>/y.js", "\\.css$": "z"}}}`)
		delete(out, "x/*")
		return out
	}())
}
