package server

import (
	"context"
	"net/http"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/model"
	"waryowl/internal/app/score"
	"waryowl/internal/exchange"
)

// file is a file as it is sent: shown in the browser, or kept under its name.
type file struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Policy      string `header:"Content-Security-Policy"`
	Body        []byte
}

// closed keeps a file that a browser shows from asking for anything or running anything.
const closed = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; img-src data:; sandbox"

var unsafe = regexp.MustCompile(`[^A-Za-z0-9.-]+`)

// sent is a file under a name that every system takes.
func sent(kind, name string, show bool, body []byte) *file {
	how := "attachment"
	if show {
		how = "inline"
	}
	return &file{kind, how + `; filename="` + strings.Trim(unsafe.ReplaceAllString(name, "-"), "-") + `"`, closed, body}
}

// sends registers a read whose answer is a file.
func sends[I any](s *server, path, id, summary string, of act.Resource, h func(context.Context, *I) (*file, error)) {
	operation(s, huma.Operation{OperationID: id, Method: http.MethodGet, Path: path, Summary: summary},
		act.Right{Resource: of, Verb: act.Read}, h)
}

// tableBody is a table that comes in.
type tableBody struct {
	File    []byte         `json:"file" doc:"CSV or XLSX, or what was copied out of a spreadsheet"`
	Mapping map[string]int `json:"mapping,omitempty" doc:"column of the table: place in the file, from 0"`
}

// Files that come in as a table.
type tableFile struct {
	Change
	ByID
	Table string `path:"table" enum:"parts,steps,measures,trials,facts"`
	Body  tableBody
}

type deskFile struct {
	Change
	ByID
	Table string `path:"table" enum:"offers,deliveries,stock"`
	Body  tableBody
}

func (s *server) exchangeRoutes() {
	sends(s, "/api/models/{id}/document", "get-model-document", "A model with its studies as one document", act.Models,
		func(ctx context.Context, in *ByID) (*file, error) { return s.document(ctx, in.ID, "") })
	sends(
		s,
		"/api/models/{id}/studies/{study}/document",
		"get-study-document",
		"A study with its model as one document",
		act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Study string `path:"study" format:"uuid"`
		}) (*file, error) {
			return s.document(ctx, in.ID, in.Study)
		},
	)
	operation(s, huma.Operation{OperationID: "import-document", Method: http.MethodPost, Path: "/api/documents",
		Summary: "Put a document in as a new model", DefaultStatus: http.StatusCreated, MaxBodyBytes: 64 << 20},
		act.Right{Resource: act.Models, Verb: act.Write}, func(ctx context.Context, in *struct {
			Change
			Name    string `query:"name" maxLength:"80" doc:"instead of the model's own name"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*body[exchange.Taken], error) {
			out, err := exchange.Import(ctx, s.App, command(ctx, "import-document", in), in.RawBody, in.Name)
			return &body[exchange.Taken]{out}, err
		})
	sends(s, "/api/models/{id}/tables/{table}/{format}", "get-table", "A table of a model", act.Models,
		func(ctx context.Context, in *struct {
			ByID
			Table  string `path:"table" enum:"parts,steps,measures,trials,facts"`
			Format string `path:"format" enum:"csv,xlsx"`
		}) (*file, error) {
			return s.table(ctx, in.ID, in.Table, in.Format)
		})
	operation(
		s,
		huma.Operation{
			OperationID:  "look-at-table",
			Method:       http.MethodPost,
			Path:         "/api/models/{id}/tables/{table}/look",
			Summary:      "What would be taken of a table",
			MaxBodyBytes: 24 << 20,
		},
		act.Right{Resource: act.Models, Verb: act.Read},
		func(ctx context.Context, in *struct {
			ByID
			Table string `path:"table" enum:"parts,steps,measures,trials,facts"`
			Body  tableBody
		}) (*body[exchange.Preview], error) {
			out, err := exchange.Look(ctx, s.App, in.ID, in.Table, in.Body.File, in.Body.Mapping)
			return &body[exchange.Preview]{out}, err
		},
	)
	operation(
		s,
		huma.Operation{OperationID: "put-table", Method: http.MethodPost, Path: "/api/models/{id}/tables/{table}",
			Summary: "Put a table in, all of it or nothing", MaxBodyBytes: 24 << 20},
		act.Right{Resource: act.Models, Verb: act.Write},
		func(ctx context.Context, in *tableFile) (*body[exchange.Preview], error) {
			out, err := exchange.Put(
				ctx,
				s.App,
				command(ctx, "put-table", in),
				in.ID,
				in.Table,
				in.Body.File,
				in.Body.Mapping,
			)
			return &body[exchange.Preview]{out}, err
		},
	)
	sends(
		s,
		"/api/models/{id}/desk/{table}/{format}",
		"get-desk-table",
		"A table of the parts desk, for one model",
		act.Buying,
		func(ctx context.Context, in *struct {
			ByID
			Table  string `path:"table" enum:"offers,deliveries,stock"`
			Format string `path:"format" enum:"csv,xlsx"`
		}) (*file, error) {
			return s.table(ctx, in.ID, in.Table, in.Format)
		},
	)
	operation(
		s,
		huma.Operation{
			OperationID:  "look-at-desk-table",
			Method:       http.MethodPost,
			Path:         "/api/models/{id}/desk/{table}/look",
			Summary:      "What would be taken of a table",
			MaxBodyBytes: 24 << 20,
		},
		act.Right{Resource: act.Buying, Verb: act.Read},
		func(ctx context.Context, in *struct {
			ByID
			Table string `path:"table" enum:"offers,deliveries,stock"`
			Body  tableBody
		}) (*body[exchange.Preview], error) {
			out, err := exchange.Look(ctx, s.App, in.ID, in.Table, in.Body.File, in.Body.Mapping)
			return &body[exchange.Preview]{out}, err
		},
	)
	operation(
		s,
		huma.Operation{OperationID: "put-desk-table", Method: http.MethodPost, Path: "/api/models/{id}/desk/{table}",
			Summary: "Put a table in, all of it or nothing", MaxBodyBytes: 24 << 20},
		act.Right{Resource: act.Buying, Verb: act.Write},
		func(ctx context.Context, in *deskFile) (*body[exchange.Preview], error) {
			out, err := exchange.Put(
				ctx,
				s.App,
				command(ctx, "put-desk-table", in),
				in.ID,
				in.Table,
				in.Body.File,
				in.Body.Mapping,
			)
			return &body[exchange.Preview]{out}, err
		},
	)
	sends(s, "/api/models/{id}/plan", "get-plan-graph", "The plan as DOT", act.Models,
		func(ctx context.Context, in *ByID) (*file, error) {
			k, err := model.Load(s.App.DB.WithContext(ctx), in.ID)
			if err != nil {
				return nil, err
			}
			return sent("text/vnd.graphviz; charset=utf-8", k.Name+"-plan.dot", false, exchange.DOT(k)), nil
		})
	sends(s, "/api/models/{id}/map", "get-map", "The map as SVG", act.Models,
		func(ctx context.Context, in *ByID) (*file, error) {
			k, err := model.Load(s.App.DB.WithContext(ctx), in.ID)
			if err != nil {
				return nil, err
			}
			return sent("image/svg+xml", k.Name+"-map.svg", false, exchange.MapSVG(k)), nil
		})
	sends(s, "/api/models/{id}/score/chart", "get-score-chart", "The scores by school as SVG", act.Models,
		func(ctx context.Context, in *ByID) (*file, error) {
			v, err := score.Show(ctx, s.App, in.ID, "")
			if err != nil {
				return nil, err
			}
			return sent("image/svg+xml", v.Model.Name+"-scores.svg", false, exchange.ScoreSVG(v)), nil
		})
	sends(s, "/api/studies/{id}/sheet/{format}", "get-sheet", "The hand-over as one file", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Format   string `path:"format" enum:"html,pdf"`
			Sections string `query:"sections" maxLength:"200" doc:"with commas; all when left out"`
			Keep     bool   `query:"keep" doc:"as a file to keep, not to look at"`
		}) (*file, error) {
			p, err := exchange.Assemble(
				ctx,
				s.App,
				in.ID,
				strings.FieldsFunc(in.Sections, func(r rune) bool { return r == ',' }),
			)
			if err != nil {
				return nil, err
			}
			if in.Format == "html" {
				page, err := p.HTML()
				return sent("text/html; charset=utf-8", p.Title+".html", !in.Keep, page), err
			}
			pdf, err := p.PDF()
			return sent("application/pdf", p.Title+".pdf", !in.Keep, pdf), err
		})
	sends(s, "/api/studies/{id}/labels", "get-labels", "Labels with codes for phones and pieces, as PDF", act.Studies,
		func(ctx context.Context, in *ByID) (*file, error) {
			list, title, err := exchange.Labels(ctx, s.App, in.ID)
			if err != nil {
				return nil, err
			}
			pdf, err := exchange.LabelSheet(list, title)
			return sent("application/pdf", "labels.pdf", true, pdf), err
		})
	get(s, "/api/codes/{code}", "get-code", "What a printed code stands for", act.Models,
		func(ctx context.Context, in *struct {
			Code string `path:"code" maxLength:"60"`
		}) (find.Coded, error) {
			return find.Lookup(ctx, s.App, in.Code)
		})
}

func (s *server) document(ctx context.Context, modelID, studyID string) (*file, error) {
	d, err := exchange.Gather(s.App.DB.WithContext(ctx), modelID, studyID, s.App.Now().Format("2006-01-02"))
	if err != nil {
		return nil, err
	}
	text, err := d.Write()
	return sent("application/json", d.Model.Maker+"-"+d.Model.Name+".json", false, text), err
}

func (s *server) table(ctx context.Context, id, name, format string) (*file, error) {
	t, err := exchange.Tabled(s.App.DB.WithContext(ctx), id, name)
	if err != nil {
		return nil, err
	}
	if format == "csv" {
		text, err := t.CSV()
		return sent("text/csv; charset=utf-8", name+".csv", false, text), err
	}
	book, err := t.XLSX()
	return sent("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", name+".xlsx", false, book), err
}
