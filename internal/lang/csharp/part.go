package csharp

import (
	"bytes"
	"path"
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/project"
)

// This file says which projects a solution is parted into, and who needs whom. projectfiles.go writes their files.

// parting is projects in the making.
type parting struct {
	*Resolver
	lang.Splitter
	files map[string]*projectFile // by their folders; nil for what can't be read
	edits map[*projectFile]*manifest.XML
}

// projectFile is a project file as it is written.
type projectFile struct {
	path string
	id   project.FileID
	src  []byte
	top  manifest.Member // the element Project
	unit *unit
}

// Part writes the projects that the convention wants: what each refers to follows from the names that its files use.
func (r *Resolver) Part(q lang.Parting) *lang.Parted {
	p := &parting{Resolver: r, Splitter: lang.NewSplitter(r.tree, q), files: map[string]*projectFile{},
		edits: map[*projectFile]*manifest.XML{}}
	packages := p.packages()
	if len(packages) == 0 {
		return nil
	}
	kinds := []*lang.Kind{Using, PageUsing, Name, PageName, Extension, ClassText, ClassWord}
	return p.Work(lang.Reading{
		Missing:  "no project file says what its files are of",
		Packages: packages, Counts: isSource, Tests: q.IsTest, More: p.used,
		Names: func(m *lang.Mention) bool { return slices.Contains(kinds, m.Kind) },
		Library: func(m *lang.Mention) string {
			if m.Kind != Using && m.Kind != PageUsing {
				return ""
			}
			return m.Text
		},
		NoCircles: true,
	}, p.look, p.resourcesApart, p.write)
}

// Packages are the projects of the tree.
func (r *Resolver) Packages() []lang.Package {
	r.index()
	p := parting{Resolver: r, files: map[string]*projectFile{}}
	return p.packages()
}

// packages are the projects of the tree: those that have a folder for themselves.
func (p *parting) packages() (out []lang.Package) {
	for id, f := range p.tree.Files {
		if f.Link || !isProject(f.Path) {
			continue
		}
		content, err := p.tree.Content(project.FileID(id))
		if err != nil {
			continue
		}
		root, err := manifest.ParseXML(content)
		if err != nil {
			continue
		}
		dir := project.Dir(f.Path)
		if _, another := p.files[dir]; another {
			p.files[dir] = nil
			continue
		}
		one := &projectFile{path: f.Path, id: project.FileID(id), src: content}
		for _, m := range root.Members {
			if m.Key == "Project" {
				one.top = m
			}
		}
		for _, u := range p.units {
			if u.path == f.Path {
				one.unit = u
			}
		}
		p.files[dir] = one
	}
	for id, f := range p.tree.Files {
		if one := p.files[project.Dir(f.Path)]; one != nil && one.id == project.FileID(id) && one.unit != nil &&
			one.top.Value != nil {
			out = append(out, lang.Package{Manifest: one.id, Dir: project.Dir(f.Path), Name: one.unit.name})
		}
	}
	return out
}

// projectName is what a project may be called: its assembly has that name, and so may a namespace.
var projectName = regexp.MustCompile(`^[A-Za-z_][\w-]*(\.[\w-]+)*$`)

// look says what stands against a project.
func (p *parting) look(one *lang.Parcel) {
	if p.Keeps(one, "project", one.Asked.Name) {
		return
	}
	if one.Name == "" {
		one.Name = path.Base(one.Dir)
	}
	if !projectName.MatchString(one.Name) {
		p.Refuse(one.Dir, "%q is no name of a project: words with points between them", one.Name)
	}
	p.Alone(one, func(other *lang.Parcel) string { return other.Name + ".csproj" })
	for _, m := range p.files[one.From.Dir].top.Value.Members {
		if m.Key == "Target" || m.Key == "UsingTask" || m.Key == "Choose" {
			p.Remark(p.files[one.From.Dir].path, m.Start, "it has a %s, which %s does not have: look whether it needs that",
				m.Key, one.Name)
		}
	}
}

// resourcesApart refuses projects whose files ask for a resource that would be of another assembly: they look for it in
// their own.
func (p *parting) resourcesApart() {
	for id := range p.tree.Files {
		id := project.FileID(id)
		mentions, targets := p.Q.Mentions(id)
		for i := range mentions {
			if mentions[i].Kind != Resource || targets[i].Kind != lang.ToFile {
				continue
			}
			one, other := p.Home(id), p.Home(targets[i].File)
			if one == other || one == nil || other == nil || !one.Wanted() && !other.Wanted() || !isSource(p.tree.Path(id)) {
				continue
			}
			dir := other.Dir
			if !other.Wanted() {
				dir = one.Dir
			}
			p.Refuse(dir, "%s asks for %s as a resource of an assembly, and that would be of another: let the two stay together",
				p.Where(id, mentions[i].Span.Start), p.tree.Path(targets[i].File))
		}
	}
}

// packageRef is a package that a project refers to.
type packageRef struct {
	id     string
	member manifest.Member
	of     *projectFile
}

// libraries are the packages that a project refers to.
func (f *projectFile) libraries() (out []packageRef) {
	for _, group := range f.top.Value.Named("ItemGroup") {
		for _, m := range group.Value.Named("PackageReference") {
			if id := m.Value.Get("@Include").String(); id != "" {
				out = append(out, packageRef{id, m, f})
			}
		}
	}
	return out
}

// used are the namespaces of others that a file brings, and the packages whose names it writes in full.
func (p *parting) used(id project.FileID, in *lang.Package) (out []string) {
	if e := p.index().files[id]; e != nil {
		for i := range e.usings {
			if i < len(e.brings) && !e.brings[i].known {
				out = append(out, e.usings[i].name)
			}
		}
	}
	p.tree.Peek(id, func(content []byte, err error) {
		for _, l := range p.files[in.Dir].libraries() {
			if err == nil && bytes.Contains(content, []byte(l.id+".")) {
				out = append(out, l.id)
			}
		}
	})
	return out
}

// fitting are the packages whose names fit a namespace best: the namespace begins with the name. Others are known.
func (f *projectFile) fitting(space string) []packageRef {
	return lang.Best(f.libraries(), func(l packageRef) (fits int) {
		for _, name := range append([]string{l.id}, strings.Fields(spacesOf[strings.ToLower(l.id)])...) {
			if strings.EqualFold(space, name) || len(space) > len(name) && strings.EqualFold(space[:len(name)+1], name+".") {
				fits = max(fits, len(name))
			}
		}
		return fits
	})
}

// spacesOf are the namespaces of packages that are called otherwise, in small letters.
var spacesOf = map[string]string{
	"mstest.testframework": "Microsoft.VisualStudio.TestTools", "mstest": "Microsoft.VisualStudio.TestTools",
	"xunit.v3": "Xunit", "xunit.core": "Xunit", "xunit.assert": "Xunit", "nunit": "NUnit",
	"microsoft.aspnetcore.mvc.testing": "Microsoft.AspNetCore.Mvc.Testing", "microsoft.net.test.sdk": "",
	"npgsql.entityframeworkcore.postgresql": "Npgsql", "mongodb.driver": "MongoDB.Driver MongoDB.Bson",
	"stackexchange.redis": "StackExchange.Redis", "rabbitmq.client": "RabbitMQ.Client",
	"masstransit.rabbitmq": "MassTransit",
	"google.protobuf":      "Google.Protobuf", "grpc.net.client": "Grpc.Net Grpc.Core",
	"grpc.aspnetcore": "Grpc.AspNetCore Grpc.Core",
	"fluentvalidation.dependencyinjectionextensions":      "FluentValidation",
	"automapper.extensions.microsoft.dependencyinjection": "AutoMapper",
	"mediatr.extensions.microsoft.dependencyinjection":    "MediatR", "awssdk.s3": "Amazon.S3 Amazon.Runtime Amazon",
	"awssdk.core":           "Amazon",
	"system.data.sqlclient": "System.Data.SqlClient", "microsoft.data.sqlite": "Microsoft.Data.Sqlite",
	"dapper.contrib":       "Dapper.Contrib",
	"sixlabors.imagesharp": "SixLabors.ImageSharp SixLabors.Fonts", "nodatime": "NodaTime", "bogus": "Bogus",
	"mailkit": "MailKit MimeKit", "htmlagilitypack": "HtmlAgilityPack", "quartz": "Quartz", "polly": "Polly",
	"cronos": "Cronos",
}

// web are the names of types that only the framework for the web has, where its namespaces are brought unasked.
var web = regexp.MustCompile(`\b(?:I?Configuration(?:Section|Manager)?|ILogger|ILoggerFactory|IServiceCollection|IServiceProvider|HttpContext|HttpRequest|HttpResponse|` +
	`IResult|Results|TypedResults|WebApplication|IApplicationBuilder|RequestDelegate|IEndpointRouteBuilder|IHostedService|BackgroundService|IHost|` +
	`IHostEnvironment|IWebHostEnvironment|ControllerBase|IActionResult|IFormFile)\b`)

// needsWeb says whether files of a project name what the framework for the web has.
func (p *parting) needsWeb(one *lang.Parcel) bool {
	return slices.ContainsFunc(one.Files, func(id project.FileID) (is bool) {
		p.tree.Peek(id, func(content []byte, err error) {
			is = err == nil && (web.Match(content) || bytes.Contains(content, []byte("Microsoft.AspNetCore")) ||
				bytes.Contains(content, []byte("Microsoft.Extensions.")))
		})
		return is
	})
}
