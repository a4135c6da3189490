package web

import (
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/app"
)

// addPhoto keeps a picture with a bay, a part, a hold or a slip.
func (s *server) addPhoto(c *gin.Context) {
	n := app.NewPhoto{ID: c.PostForm("id"), Of: c.PostForm("of"), Caption: c.PostForm("caption")}
	file, err := c.FormFile("photo")
	if err != nil {
		file = nil // none, or too large a body to have fields at all
	} else if n.Data, err = readAll(file.Open); err != nil {
		s.fail(c, err)
		return
	}
	var wrong app.Problems
	if file == nil {
		wrong = app.Problems{"photo": "choose a JPEG or PNG picture of 15 MB at most"}
	} else {
		err = s.app.AddPhoto(c.Request.Context(), n)
		wrong, _ = problems(err)
	}
	to := back(c)
	if wrong == nil {
		s.done(c, err, to)
		return
	}
	kind, id, _ := strings.Cut(strings.TrimPrefix(to, "/"), "/")
	switch kind {
	case "bays":
		s.showBay(c, id, http.StatusUnprocessableEntity, "photo", wrong, typed(c, "caption"))
	case "holds":
		c.Params = gin.Params{{Key: "id", Value: id}}
		s.showHold(c, http.StatusUnprocessableEntity, wrong, typed(c, "caption"))
	case "slips":
		s.showSlips(c, http.StatusUnprocessableEntity, "photo:"+n.Of, wrong, typed(c, "caption"))
	case "stores":
		s.showStores(c, http.StatusUnprocessableEntity, "photo:"+n.Of, wrong, typed(c, "caption"))
	default:
		s.render(c, http.StatusUnprocessableEntity, "error", "layout.html", s.page(c, "", "The picture was not kept", failure{"The picture was not kept", wrong["photo"], ""}))
	}
}

// readAll reads a file that was sent.
func readAll[F io.ReadCloser](open func() (F, error)) ([]byte, error) {
	f, err := open()
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, app.MaxPhoto+1))
}

func (s *server) photo(c *gin.Context) { s.sendPhoto(c, false) }
func (s *server) thumb(c *gin.Context) { s.sendPhoto(c, true) }

func (s *server) sendPhoto(c *gin.Context, thumb bool) {
	kind, data, err := s.app.PhotoContent(c.Request.Context(), c.Param("id"), thumb)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, kind, data)
}
