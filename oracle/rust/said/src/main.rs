//! Says what files of Rust declare, bring and name, as the syn crate reads them: one line for each thing, with its place
//! in bytes. The names of files come on standard input, one a line.

use proc_macro2::{Span, TokenStream, TokenTree};
use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::io::{BufRead, Write};
use syn::spanned::Spanned;
use syn::visit::{self, Visit};

struct Said<'a> {
    starts: Vec<usize>,
    text: &'a str,
    out: BTreeSet<String>,
    names: BTreeSet<String>,
    macros: BTreeSet<String>,
}

impl Said<'_> {
    /// Gives the place of a span in bytes.
    fn place(&self, span: Span) -> (usize, usize) {
        let at = |p: proc_macro2::LineColumn| {
            let line = self.starts[p.line - 1];
            self.text[line..].char_indices().nth(p.column).map_or(self.text.len(), |(i, _)| line + i)
        };
        (at(span.start()), at(span.end()))
    }

    fn say(&mut self, what: &str, span: Span, text: &str) {
        let (from, to) = self.place(span);
        let mut line = String::new();
        write!(line, "{what}\t{from}\t{to}\t{text}").unwrap();
        self.out.insert(line);
    }

    /// Says a path, up to the first part with arguments; a single name is said by itself.
    fn path(&mut self, path: &syn::Path, parts: usize) {
        let mut text = Vec::new();
        let mut span = None;
        for part in path.segments.iter().take(parts) {
            text.push(plain(&part.ident));
            span = Some(part.ident.span());
            if !part.arguments.is_none() {
                break;
            }
        }
        let Some(last) = span else { return };
        if text.len() == 1 && path.leading_colon.is_none() {
            self.names.insert(text.remove(0));
            return;
        }
        let first = path.leading_colon.map_or(path.segments[0].ident.span(), |c| c.spans[0]);
        let (from, _) = self.place(first);
        let (start, end) = self.place(last);
        // what has a hash before it is one word
        let _ = start;
        self.out.insert(format!("path\t{from}\t{end}\t{}{}", if path.leading_colon.is_some() { "::" } else { "" }, text.join("::")));
    }

    fn tree(&mut self, tree: &syn::UseTree, path: &mut Vec<String>) {
        match tree {
            syn::UseTree::Path(p) => {
                path.push(plain(&p.ident));
                self.tree(&p.tree, path);
                path.pop();
            }
            syn::UseTree::Name(n) => {
                let name = plain(&n.ident);
                let mut all = path.clone();
                if name != "self" || all.is_empty() {
                    all.push(name);
                }
                let bound = all.last().unwrap().clone();
                self.say("use", n.ident.span(), &format!("{} {bound}", all.join("::")));
            }
            syn::UseTree::Rename(r) => {
                let name = plain(&r.ident);
                let mut all = path.clone();
                if name != "self" || all.is_empty() {
                    all.push(name);
                }
                let bound = plain(&r.rename);
                self.say("use", r.ident.span(), &format!("{} {}", all.join("::"), if bound == "_" { "" } else { &bound }));
            }
            syn::UseTree::Glob(g) => self.say("use", g.star_token.spans[0], &format!("{} *", path.join("::"))),
            syn::UseTree::Group(g) => {
                for item in &g.items {
                    self.tree(item, path);
                }
            }
        }
    }

    fn item(&mut self, kind: &str, ident: &proc_macro2::Ident, vis: &syn::Visibility) {
        let text = format!("{kind} {} {}", plain(ident), sees(vis));
        self.say("item", ident.span(), &text);
    }

    fn member(&mut self, ident: &proc_macro2::Ident, vis: &syn::Visibility) {
        if !matches!(vis, syn::Visibility::Public(_)) {
            let text = format!("{} {}", plain(ident), sees(vis));
            self.say("member", ident.span(), &text);
        }
    }

    /// Says the file that a macro reads.
    fn file(&mut self, m: &syn::Macro) {
        let name = plain(&m.path.segments.last().unwrap().ident);
        if name == "include" || name == "include_str" || name == "include_bytes" {
            if let Some(TokenTree::Literal(l)) = m.tokens.clone().into_iter().next() {
                if let Ok(text) = syn::parse_str::<syn::LitStr>(&l.to_string()) {
                    self.say("file", l.span(), &format!("{name} {:?}", text.value()));
                }
            }
        }
    }

    /// Says the strings of an attribute's arguments.
    fn strings(&mut self, attr: &str, key: &str, tokens: TokenStream) {
        let mut reads = None;
        for token in tokens {
            if let TokenTree::Ident(i) = &token {
                reads = Some(i.to_string()).filter(|name| name.starts_with("include"));
                continue;
            }
            match token {
                TokenTree::Group(g) if reads.is_some() => {
                    let name = reads.take().unwrap();
                    match g.stream().into_iter().next() {
                        Some(TokenTree::Literal(l)) => {
                            if let Ok(text) = syn::parse_str::<syn::LitStr>(&l.to_string()) {
                                self.say("file", l.span(), &format!("{name} {:?}", text.value()));
                            }
                        }
                        _ => self.strings(attr, key, g.stream()),
                    }
                }
                TokenTree::Group(g) => self.strings(attr, key, g.stream()),
                // a comment that documents are made of comes as an attribute
                TokenTree::Literal(l) if !self.text[self.place(l.span()).0..].starts_with('/') => {
                    if let Ok(text) = syn::parse_str::<syn::LitStr>(&l.to_string()) {
                        self.say("string", l.span(), &format!("{attr} {:?}", text.value()));
                    }
                }
                _ => {}
            }
        }
    }
}

fn plain(ident: &proc_macro2::Ident) -> String {
    ident.to_string().trim_start_matches("r#").to_string()
}

fn sees(vis: &syn::Visibility) -> String {
    match vis {
        syn::Visibility::Public(_) => "pub".into(),
        syn::Visibility::Inherited => "-".into(),
        syn::Visibility::Restricted(r) => {
            let parts: Vec<_> = r.path.segments.iter().map(|s| plain(&s.ident)).collect();
            format!("pub({}{})", if r.in_token.is_some() { "in " } else { "" }, parts.join("::"))
        }
    }
}

impl<'ast> Visit<'ast> for Said<'_> {
    fn visit_path(&mut self, path: &'ast syn::Path) {
        self.path(path, path.segments.len());
        for part in &path.segments {
            self.visit_path_arguments(&part.arguments);
        }
    }
    fn visit_expr_path(&mut self, e: &'ast syn::ExprPath) {
        for a in &e.attrs {
            self.visit_attribute(a);
        }
        self.qualified(&e.qself, &e.path);
    }
    fn visit_type_path(&mut self, t: &'ast syn::TypePath) {
        self.qualified(&t.qself, &t.path);
    }
    fn visit_vis_restricted(&mut self, _: &'ast syn::VisRestricted) {}
    fn visit_attribute(&mut self, a: &'ast syn::Attribute) {
        let name: Vec<_> = a.path().segments.iter().map(|s| plain(&s.ident)).collect();
        let name = name.join("::");
        match &a.meta {
            syn::Meta::List(l) => self.strings(&name, "", l.tokens.clone()),
            syn::Meta::NameValue(v) if name != "doc" => {
                if let syn::Expr::Lit(syn::ExprLit { lit: syn::Lit::Str(s), .. }) = &v.value {
                    self.say("string", s.span(), &format!("{name} {:?}", s.value()));
                } else if let syn::Expr::Macro(m) = &v.value {
                    self.file(&m.mac);
                }
            }
            syn::Meta::NameValue(v) => {
                if let syn::Expr::Macro(m) = &v.value {
                    self.file(&m.mac);
                }
            }
            _ => {}
        }
    }
    fn visit_macro(&mut self, m: &'ast syn::Macro) {
        if m.path.segments.len() == 1 && m.path.leading_colon.is_none() {
            self.macros.insert(plain(&m.path.segments[0].ident));
        } else {
            self.path(&m.path, m.path.segments.len());
        }
        self.file(m);
    }
    fn visit_foreign_item(&mut self, i: &'ast syn::ForeignItem) {
        if let syn::ForeignItem::Verbatim(tokens) = i {
            self.say("opaque", tokens.span(), "");
        }
        visit::visit_foreign_item(self, i);
    }
    fn visit_item(&mut self, i: &'ast syn::Item) {
        // what the reader itself does not look into
        if let syn::Item::Verbatim(tokens) = i {
            self.say("opaque", tokens.span(), "");
        }
        visit::visit_item(self, i);
    }
    fn visit_item_mod(&mut self, m: &'ast syn::ItemMod) {
        let how = if m.content.is_some() { "inline" } else { "file" };
        let text = format!("{} {how} {}", plain(&m.ident), sees(&m.vis));
        self.say("mod", m.ident.span(), &text);
        visit::visit_item_mod(self, m);
    }
    fn visit_item_use(&mut self, u: &'ast syn::ItemUse) {
        for a in &u.attrs {
            self.visit_attribute(a);
        }
        self.tree(&u.tree, &mut Vec::new());
    }
    fn visit_item_fn(&mut self, i: &'ast syn::ItemFn) {
        self.item("fn", &i.sig.ident, &i.vis);
        visit::visit_item_fn(self, i);
    }
    fn visit_foreign_item_fn(&mut self, i: &'ast syn::ForeignItemFn) {
        self.item("fn", &i.sig.ident, &i.vis);
        visit::visit_foreign_item_fn(self, i);
    }
    fn visit_foreign_item_static(&mut self, i: &'ast syn::ForeignItemStatic) {
        self.item("static", &i.ident, &i.vis);
        visit::visit_foreign_item_static(self, i);
    }
    fn visit_foreign_item_type(&mut self, i: &'ast syn::ForeignItemType) {
        self.item("type", &i.ident, &i.vis);
        visit::visit_foreign_item_type(self, i);
    }
    fn visit_item_struct(&mut self, i: &'ast syn::ItemStruct) {
        self.item("struct", &i.ident, &i.vis);
        visit::visit_item_struct(self, i);
    }
    fn visit_item_union(&mut self, i: &'ast syn::ItemUnion) {
        self.item("union", &i.ident, &i.vis);
        visit::visit_item_union(self, i);
    }
    fn visit_field(&mut self, f: &'ast syn::Field) {
        if let Some(ident) = &f.ident {
            self.member(ident, &f.vis);
        }
        visit::visit_field(self, f);
    }
    fn visit_item_enum(&mut self, i: &'ast syn::ItemEnum) {
        self.item("enum", &i.ident, &i.vis);
        for v in &i.variants {
            self.say("variant", v.ident.span(), &format!("{} {}", plain(&i.ident), plain(&v.ident)));
            for a in &v.attrs {
                self.visit_attribute(a);
            }
            for f in &v.fields {
                for a in &f.attrs {
                    self.visit_attribute(a);
                }
                self.visit_type(&f.ty);
            }
            if let Some((_, e)) = &v.discriminant {
                self.visit_expr(e);
            }
        }
        for a in &i.attrs {
            self.visit_attribute(a);
        }
        self.visit_generics(&i.generics);
    }
    fn visit_item_trait(&mut self, i: &'ast syn::ItemTrait) {
        self.item("trait", &i.ident, &i.vis);
        visit::visit_item_trait(self, i);
    }
    fn visit_item_trait_alias(&mut self, i: &'ast syn::ItemTraitAlias) {
        self.item("trait", &i.ident, &i.vis);
        visit::visit_item_trait_alias(self, i);
    }
    fn visit_item_type(&mut self, i: &'ast syn::ItemType) {
        self.item("type", &i.ident, &i.vis);
        visit::visit_item_type(self, i);
    }
    fn visit_item_const(&mut self, i: &'ast syn::ItemConst) {
        if i.ident != "_" {
            self.item("const", &i.ident, &i.vis);
        }
        visit::visit_item_const(self, i);
    }
    fn visit_item_static(&mut self, i: &'ast syn::ItemStatic) {
        self.item("static", &i.ident, &i.vis);
        visit::visit_item_static(self, i);
    }
    fn visit_item_extern_crate(&mut self, i: &'ast syn::ItemExternCrate) {
        let ident = i.rename.as_ref().map_or(&i.ident, |(_, r)| r);
        if ident != "_" {
            self.item("crate", ident, &i.vis);
        }
        for a in &i.attrs {
            self.visit_attribute(a);
        }
    }
    fn visit_item_macro(&mut self, i: &'ast syn::ItemMacro) {
        if let Some(ident) = &i.ident {
            self.item("macro", ident, &syn::Visibility::Inherited);
        } else {
            self.visit_macro(&i.mac);
        }
        for a in &i.attrs {
            self.visit_attribute(a);
        }
    }
    fn visit_item_impl(&mut self, i: &'ast syn::ItemImpl) {
        if i.trait_.is_none() {
            for one in &i.items {
                match one {
                    syn::ImplItem::Fn(f) => self.member(&f.sig.ident, &f.vis),
                    syn::ImplItem::Const(c) => self.member(&c.ident, &c.vis),
                    syn::ImplItem::Type(t) => self.member(&t.ident, &t.vis),
                    _ => {}
                }
            }
        }
        visit::visit_item_impl(self, i);
    }
}

impl Said<'_> {
    /// <T as a::B>::c: what stands behind the angle is no path of its own.
    fn qualified(&mut self, qself: &Option<syn::QSelf>, path: &syn::Path) {
        let parts = match qself {
            Some(q) => {
                self.visit_type(&q.ty);
                q.position
            }
            None => path.segments.len(),
        };
        if parts > 0 {
            self.path(path, parts);
        }
        for part in &path.segments {
            self.visit_path_arguments(&part.arguments);
        }
    }
}

fn main() {
    let out = std::io::stdout();
    let mut out = std::io::BufWriter::new(out.lock());
    for name in std::io::stdin().lock().lines().map(Result::unwrap) {
        let Ok(text) = std::fs::read_to_string(&name) else { continue };
        let stripped = text.strip_prefix('\u{feff}').unwrap_or(&text);
        let shift = text.len() - stripped.len();
        writeln!(out, "FILE\t{name}").unwrap();
        let file = match syn::parse_file(&text) {
            Ok(file) => file,
            Err(e) => {
                writeln!(out, "REFUSED\t{}", e.to_string().replace('\n', " ")).unwrap();
                continue;
            }
        };
        // a line that names a program is taken off before the text is read
        let head = if file.shebang.is_some() { stripped.find('\n').unwrap_or(stripped.len()) } else { 0 };
        let body = &stripped[head..];
        let mut starts = vec![0];
        starts.extend(body.match_indices('\n').map(|(i, _)| i + 1));
        let mut said = Said { starts, text: body, out: BTreeSet::new(), names: BTreeSet::new(), macros: BTreeSet::new() };
        said.visit_file(&file);
        let _ = file.span();
        writeln!(out, "SHIFT\t{}", shift + head).unwrap();
        for line in &said.out {
            writeln!(out, "{line}").unwrap();
        }
        for name in &said.names {
            writeln!(out, "name\t{name}").unwrap();
        }
        for name in &said.macros {
            writeln!(out, "call\t{name}").unwrap();
        }
    }
}
