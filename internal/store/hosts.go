package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
)

func init() { mysql.RegisterDialContext("hosts", dialHosts) }

// dialHosts connects to the first of several database servers that answers, in their order:
// user:password@hosts(a:3306,b:3306)/name.
func dialHosts(ctx context.Context, addresses string) (net.Conn, error) {
	var all error
	for address := range strings.SplitSeq(addresses, ",") {
		try, cancel := context.WithTimeout(ctx, dialTimeout)
		c, err := (&net.Dialer{}).DialContext(try, "tcp", strings.TrimSpace(address))
		cancel()
		if err == nil {
			return c, nil
		}
		all = errors.Join(all, err)
	}
	return nil, all
}

const dialTimeout = 3 * time.Second

// pool opens a pool of connections. Of several servers each connection goes to the first that answers and that is part of
// its cluster; there a read sees all that was written before it, through whichever server.
func pool(config *mysql.Config) (*sql.DB, error) {
	if config.Net != "hosts" {
		one, err := mysql.NewConnector(config)
		if err != nil {
			return nil, err
		}
		return sql.OpenDB(one), nil
	}
	var list cluster
	for address := range strings.SplitSeq(config.Addr, ",") {
		d := config.Clone()
		d.Net, d.Addr = "tcp", strings.TrimSpace(address)
		one, err := mysql.NewConnector(d)
		if err != nil {
			return nil, err
		}
		list = append(list, one)
	}
	db := sql.OpenDB(list)
	db.SetConnMaxLifetime(5 * time.Minute) // so that all come back to the first server once it is there again
	return db, nil
}

// cluster connects to the first of several servers that is ready.
type cluster []driver.Connector

func (c cluster) Driver() driver.Driver { return c[0].Driver() }

func (c cluster) Connect(ctx context.Context) (driver.Conn, error) {
	var all error
	for _, one := range c {
		try, cancel := context.WithTimeout(ctx, dialTimeout)
		conn, err := one.Connect(try)
		if err == nil {
			if err = joined(try, conn); err != nil {
				conn.Close()
			}
		}
		cancel()
		if err == nil {
			return conn, nil
		}
		all = errors.Join(all, err)
	}
	return nil, all
}

// errApart says that a server has lost its cluster: it answers and must not be asked.
var errApart = errors.New("store: this database server is not part of its cluster")

// joined refuses a server that lost its cluster, and makes reads wait for what other servers have written. A server
// without a cluster has nothing to wait for.
func joined(ctx context.Context, conn driver.Conn) error {
	asker, runs := conn.(driver.QueryerContext), conn.(driver.ExecerContext)
	ready, err := value(ctx, asker, "SHOW STATUS LIKE 'wsrep_ready'")
	if errors.Is(err, io.EOF) { // built without
		return nil
	}
	if err != nil {
		return err
	}
	switch on, err := value(ctx, asker, "SELECT @@wsrep_on"); {
	case err != nil:
		return err
	case on == "0":
		return nil
	case ready != "ON":
		return errApart
	}
	_, err = runs.ExecContext(ctx, "SET SESSION wsrep_sync_wait = 1", nil)
	return err
}

// value is the last column of the first row, as the server writes it; io.EOF without one.
func value(ctx context.Context, asker driver.QueryerContext, query string) (string, error) {
	rows, err := asker.QueryContext(ctx, query, nil)
	if err != nil {
		return "", err
	}
	defer rows.Close()
	row := make([]driver.Value, len(rows.Columns()))
	if err := rows.Next(row); err != nil {
		return "", err
	}
	last := row[len(row)-1]
	if b, is := last.([]byte); is {
		return string(b), nil
	}
	return fmt.Sprint(last), nil
}
