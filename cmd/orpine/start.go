package main

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"strconv"

	"github.com/spf13/cobra"

	"orpine/internal/store"
)

// start is what a double click does: it serves the workshop of this machine's user and opens the browser on it; where
// it runs already, it opens that.
func start(cmd *cobra.Command) error {
	home, err := os.UserHomeDir()
	if err != nil {
		return fmt.Errorf("where your data would lie is not known (%w): say it with orpine serve --data DIR", err)
	}
	dir := dataPlace(runtime.GOOS, os.Getenv, home)
	if url := runsAt(store.Owner(dir)); url != "" {
		fmt.Fprintf(cmd.OutOrStdout(), "Orpine runs already, at %s; its page is opened.\n", url)
		return browse(url)
	}
	addr, err := freeAddr(defaultAddr, 20)
	if err != nil {
		return err
	}
	fmt.Fprintf(cmd.OutOrStdout(), "Your workshop's data lie in %s.\nLeave this window open while you work; closing it, or Ctrl-C in it, stops Orpine. Nothing is lost by that.\n", dir)
	o := serving{addr: addr, dir: dir, ready: func(url string) {
		if err := browse(url); err != nil {
			fmt.Fprintf(cmd.OutOrStdout(), "Open %s in your browser: it could not be opened from here.\n", url)
		}
	}}
	return o.serve(cmd)
}

// dataPlace is where a program's data lie by the custom of a system.
func dataPlace(system string, getenv func(string) string, home string) string {
	switch system {
	case "windows":
		if local := getenv("LocalAppData"); local != "" {
			return filepath.Join(local, "Orpine")
		}
		return filepath.Join(home, "AppData", "Local", "Orpine")
	case "darwin":
		return filepath.Join(home, "Library", "Application Support", "Orpine")
	}
	if data := getenv("XDG_DATA_HOME"); filepath.IsAbs(data) {
		return filepath.Join(data, "orpine")
	}
	return filepath.Join(home, ".local", "share", "orpine")
}

var served = regexp.MustCompile(`http://[^)\s]+`)

// runsAt is the address of a workshop that is served, by how its owner is called; "" for none.
func runsAt(owner string) string { return served.FindString(owner) }

// freeAddr is an address at which nothing listens: the given one, or one of the next ports.
func freeAddr(addr string, more int) (string, error) {
	host, port, err := net.SplitHostPort(addr)
	if err != nil {
		return "", err
	}
	first, err := strconv.Atoi(port)
	if err != nil {
		return "", err
	}
	for n := range more + 1 {
		at := net.JoinHostPort(host, strconv.Itoa(first+n))
		listener, err := net.Listen("tcp", at) //nolint:noctx // it is closed at once
		if err == nil {
			return at, listener.Close()
		}
	}
	return "", fmt.Errorf("the ports from %d to %d are all taken by other programs: say another with orpine serve --data DIR --addr HOST:PORT", first, first+more)
}

// opener is the command that opens an address in the browser of a system.
func opener(system, url string) []string {
	switch system {
	case "windows":
		return []string{"rundll32", "url.dll,FileProtocolHandler", url}
	case "darwin":
		return []string{"open", url}
	}
	return []string{"xdg-open", url}
}

// errNoBrowser says that there is nothing to open a page with.
var errNoBrowser = errors.New("no browser could be opened")

func browse(url string) error {
	command := opener(runtime.GOOS, url)
	path, err := exec.LookPath(command[0])
	if err != nil {
		return errNoBrowser
	}
	open := exec.Command(path, command[1:]...) //nolint:gosec,noctx // one of the three above, which ends by itself
	if err := open.Start(); err != nil {
		return errNoBrowser
	}
	go open.Wait() //nolint:errcheck // what it shows is not this program's
	return nil
}

// serviceCommand prints what makes it start with the machine.
func serviceCommand() *cobra.Command {
	var dir, system string
	cmd := &cobra.Command{
		Use: "service", Short: "Print what makes it start with the machine", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			self, err := os.Executable()
			if err != nil {
				return err
			}
			home, err := os.UserHomeDir()
			if err != nil {
				return err
			}
			if dir == "" {
				dir = dataPlace(system, os.Getenv, home)
			}
			text, ok := serviceText(system, self, dir)
			if !ok {
				return fmt.Errorf("--for %s: linux, darwin or windows is wanted", system)
			}
			fmt.Fprint(cmd.OutOrStdout(), text)
			return nil
		},
	}
	cmd.Flags().StringVar(&dir, "data", "", "directory of the workshop's data; empty: where a double click keeps it")
	cmd.Flags().StringVar(&system, "for", runtime.GOOS, "linux, darwin or windows")
	return cmd
}

func xmlText(text string) string {
	var b bytes.Buffer
	_ = xml.EscapeText(&b, []byte(text)) // a buffer takes all
	return b.String()
}

// serviceText is what makes a program start with a machine, with how it is put in place.
func serviceText(system, self, dir string) (text string, ok bool) {
	switch system {
	case "linux":
		return fmt.Sprintf(`# ~/.config/systemd/user/orpine.service, then: systemctl --user enable --now orpine
[Unit]
Description=Orpine, the workshop's measuring and record

[Service]
ExecStart="%s" serve --data "%s"
Restart=on-failure

[Install]
WantedBy=default.target
`, self, dir), true
	case "darwin":
		return fmt.Sprintf(`<?xml version="1.0" encoding="UTF-8"?>
<!-- ~/Library/LaunchAgents/orpine.plist, then: launchctl load -w ~/Library/LaunchAgents/orpine.plist -->
<!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
<plist version="1.0"><dict>
  <key>Label</key><string>orpine</string>
  <key>ProgramArguments</key><array><string>%s</string><string>serve</string><string>--data</string><string>%s</string></array>
  <key>RunAtLoad</key><true/>
  <key>KeepAlive</key><true/>
</dict></plist>
`, xmlText(self), xmlText(dir)), true
	case "windows":
		return fmt.Sprintf("rem run this once in a command window\r\nschtasks /create /tn Orpine /sc onlogon /tr \"\\\"%s\\\" serve --data \\\"%s\\\"\"\r\n", self, dir), true
	}
	return "", false
}
