package exchange

import (
	"bytes"
	"encoding/base64"
	"html/template"
)

// page is one file that opens anywhere: its fonts and its drawings are inside.
var page = template.Must(template.New("page").Funcs(template.FuncMap{
	"svg": func(m *Map) template.HTML { return template.HTML(m.SVG()) },
	"font": func(name string) template.URL {
		return template.URL("data:font/woff;base64," + base64.StdEncoding.EncodeToString(font(name)))
	},
	"jpeg": func(image []byte) template.URL {
		return template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(image))
	},
	"mm":      func() float64 { return MatCell },
	"columns": func() int { return MatColumns },
}).Parse(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="Wary Owl">
<title>{{.Title}}</title>
<style>
@font-face{font-family:Sheet;font-weight:400;src:url({{font "next-latin-400"}})}
@font-face{font-family:Sheet;font-weight:600;src:url({{font "next-latin-600"}})}
@font-face{font-family:Figures;src:url({{font "mono-latin-400"}})}
body{font:16px/1.4 Sheet,system-ui,sans-serif;color:#1e2a2e;background:#f5f2ea;max-width:190mm;margin:24px auto;padding:0 16px}
h1{font-size:26px;font-weight:600;margin:0 0 4px}
h2{font-size:18px;font-weight:600;border-bottom:1px solid #1e2a2e;padding-bottom:4px;margin:28px 0 8px}
table{border-collapse:collapse;width:100%}
th{text-align:left;font-weight:600;font-size:14px;color:#5a676b;border-bottom:1px solid #1e2a2e;padding:4px 8px 4px 0}
td{border-bottom:1px solid #d6d0c2;padding:5px 8px 5px 0;vertical-align:top;font-size:15px}
ul{padding-left:20px}
li{margin:3px 0}
.quiet,.stamp{color:#5a676b}
.stamp{border-top:1px solid #1e2a2e;margin-top:32px;padding-top:8px;font-size:14px}
s{color:#5a676b}
.mat{display:grid;grid-template-columns:repeat({{columns}},{{mm}}mm);border-top:.2mm solid #1e2a2e;border-left:.2mm solid #1e2a2e;width:max-content}
.mat div{width:{{mm}}mm;height:{{mm}}mm;box-sizing:border-box;border-right:.2mm solid #1e2a2e;border-bottom:.2mm solid #1e2a2e;padding:1.5mm;font-size:12px;line-height:1.25;overflow:hidden}
.photos{display:grid;grid-template-columns:repeat(auto-fill,minmax(50mm,1fr));gap:4mm}
.photos figure{margin:0}
.photos img{width:100%}
.scroll{overflow-x:auto}
svg{max-width:100%;height:auto}
@media print{body{background:none;margin:0;max-width:none;padding:0}.break{break-before:page}tr,li{break-inside:avoid}}
</style>
</head>
<body>
<h1>{{.Title}}</h1>
<p class="quiet">{{.Stamp}}</p>
{{range .Blocks}}
{{- if .Heading}}<h2{{if .Break}} class="break"{{end}}>{{.Heading}}</h2>
{{end}}{{if .Text}}<p>{{.Text}}</p>
{{end}}{{if .Quiet}}<p class="quiet">{{.Quiet}}</p>
{{end}}{{if .Items}}<ul>{{range .Items}}<li>{{if .Struck}}<s>{{.Text}}</s>{{else}}{{.Text}}{{end}}{{if .Note}} <span class="quiet">{{.Note}}</span>{{end}}</li>{{end}}</ul>
{{end}}{{with .Table}}<div class="scroll"><table><thead><tr>{{range .Heads}}<th>{{.}}</th>{{end}}</tr></thead><tbody>{{range .Rows}}<tr>{{range .}}<td>{{.}}</td>{{end}}</tr>{{end}}</tbody></table></div>
{{end}}{{with .Mat}}<div class="scroll"><div class="mat">{{range .Cells}}<div>{{range .}}{{.}}<br>{{end}}</div>{{end}}</div></div>
{{end}}{{if .Photos}}<div class="photos">{{range .Photos}}<figure><img alt="{{.Text}}" src="{{jpeg .Image}}"><figcaption>{{.Text}}</figcaption></figure>{{end}}</div>
{{end}}{{with .Map}}{{svg .}}
{{end}}{{end}}
<p class="stamp">{{.Stamp}}. {{.Notice}}</p>
</body>
</html>
`))

// HTML is the sheet as one file without anything outside it.
func (p Paper) HTML() ([]byte, error) {
	var b bytes.Buffer
	err := page.Execute(&b, p)
	return b.Bytes(), err
}
