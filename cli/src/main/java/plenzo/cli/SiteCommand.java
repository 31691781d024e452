package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Drifts.LeftOverItem;
import plenzo.api.Drifts.LeftOverView;
import plenzo.api.Drifts.NamesAsked;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.DoorsView;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.TargetView;

@Command(
    name = "site",
    description = "Installations of a stage, with their database, files and host.",
    footer = {
      "",
      "Examples:",
      "  plenzo site new test/main --looking db-look --changing db-change --scratch scratch --schema fares",
      "  plenzo site check test/main",
      "  plenzo site left-over fares@production/north",
      "  plenzo site clear fares@production/north before_12_0"
    })
final class SiteCommand extends Group {
  /** Which connections lead to the targets of a site. */
  static final class Targets {
    @Option(names = "--looking", description = "Connection to the database that may only read.")
    @Nullable String looking;

    @Option(
        names = "--changing",
        defaultValue = "",
        description = "Connection used inside runs alone.")
    String changing = "";

    @Option(
        names = "--scratch",
        defaultValue = "",
        description = "Connection to where backups are proven.")
    String scratch = "";

    @Option(names = "--schema", description = "Schemas that Plenzo looks at.")
    @Nullable List<String> schemas;

    @Option(names = "--directory", description = "Connection to the published files.")
    @Nullable String directory;

    @Option(
        names = "--keep-out",
        paramLabel = "ACCOUNT",
        description =
            "Account of the database that may not sign in while a version comes; repeatable.")
    @Nullable List<String> keepOut;

    @Option(
        names = "--end-sessions",
        description = "Ends their sessions that are still there when the wait is over.")
    boolean end;

    @Option(
        names = "--closed-file",
        paramLabel = "NAME",
        description =
            "File that is put beside the directory while a version comes, for its web server to"
                + " show.")
    @Nullable String closedFile;

    @Option(names = "--app-host", description = "Connection to the application host.")
    @Nullable String host;

    /**
     * @param source whether the site is only looked at
     */
    List<TargetView> views(boolean source) {
      List<TargetView> out = new ArrayList<>();
      if (looking != null) {
        out.add(
            new TargetView(
                null,
                "database",
                "postgresql",
                schemas == null ? List.of() : schemas,
                looking,
                changing,
                scratch,
                keepOut == null && !end
                    ? null
                    : new DoorsView(keepOut == null ? List.of() : keepOut, end)));
      }
      if (directory != null) {
        out.add(
            whole(
                "files",
                "directory",
                directory,
                source,
                closedFile == null ? null : new DoorsView(List.of(closedFile), false)));
      }
      if (host != null) {
        out.add(whole("host", "host", host, source, null));
      }
      if (out.isEmpty()) {
        throw Failed.usage("A site needs --looking, --directory or --app-host.");
      }
      return out;
    }

    private static TargetView whole(
        String key, String sort, String name, boolean source, @Nullable DoorsView doors) {
      return new TargetView(null, key, sort, List.of(), name, source ? "" : name, "", doors);
    }
  }

  @Command(
      name = "new",
      description =
          "Adds a site with its database, directory and application host to a stage; one that is"
              + " there is changed by \"site change\".")
  void make(
      @Parameters(paramLabel = "STAGE/SITE") String site, @ArgGroup(exclusive = false) Targets at) {
    String[] place = place(site);
    api()
        .post(
            "/stages/" + Api.encode(place[0]) + "/sites",
            new SiteView(place[1], targets(place[0], at)),
            StageView.class);
    String name = String.join("/", place);
    out().line("Site " + name + " is registered. Next: plenzo site check " + name);
  }

  @Command(
      name = "change",
      description =
          "Changes which connections lead to the targets of a site: the whole list, refused while"
              + " a run stands on what would go.")
  void change(
      @Parameters(paramLabel = "STAGE/SITE") String site, @ArgGroup(exclusive = false) Targets at) {
    String[] place = place(site);
    api()
        .put(
            "/stages/" + Api.encode(place[0]) + "/sites/" + Api.encode(place[1]),
            new SiteView(place[1], targets(place[0], at)),
            StageView.class);
    String name = String.join("/", place);
    out().line("Site " + name + " is changed. Next: plenzo site check " + name);
  }

  private List<TargetView> targets(String stage, @Nullable Targets at) {
    if (at == null) {
      throw Failed.usage("A site needs --looking, --directory or --app-host.");
    }
    return at.views(stage(stage).role().equals("development"));
  }

  /** Unlike where a site is looked up, one that is named here need not exist yet. */
  private static String[] place(String site) {
    return (site.contains("/") ? site : site + "/main").split("/", 2);
  }

  @Command(
      name = "left-over",
      description =
          "What earlier runs left at a site: tables, trees and scratch places beside the content,"
              + " and what of the content was kept on purpose.")
  void leftOver(@Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at) {
    show(at, api().get(leftOverPath(at), LeftOverView.class));
  }

  @Command(
      name = "clear",
      description =
          "Clears what is left over, for good: what lies beside the content is removed; what was"
              + " kept on purpose counts as drift from then on.")
  void clear(
      @Parameters(index = "0", paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Parameters(
              index = "1..*",
              arity = "1..*",
              paramLabel = "NAME",
              description = "As \"site left-over\" has it.")
          List<String> names) {
    show(at, api().post(leftOverPath(at) + "/clear", new NamesAsked(names), LeftOverView.class));
  }

  private String leftOverPath(String at) {
    String[] p = parts(at, "fares@production");
    return "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/left-over";
  }

  private void show(String at, LeftOverView v) {
    if (out().json()) {
      out().document("left-over", v);
      return;
    }
    if (v.items().isEmpty()) {
      out().line("Nothing is left over at " + v.site() + " that Plenzo knows of.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    for (LeftOverItem i : v.items()) {
      rows.add(
          List.of(
              i.name(),
              i.shown(),
              i.target(),
              i.run() == null ? "" : i.run(),
              i.since() == null ? "" : out().time(i.since()),
              i.bytes() == null ? "" : bytes(i.bytes()),
              i.why()));
    }
    out()
        .table(
            List.of("name", "what", "target", "left by", "ended", "size", "stays because"), rows);
    if (v.items().stream().anyMatch(i -> i.why().isEmpty()) && v.may().allowed()) {
      out().line("Next: plenzo site clear " + at + " NAME");
    }
  }

  private static String bytes(long n) {
    return n < 1_000_000 ? (n + 999) / 1000 + " kB" : (n + 999_999) / 1_000_000 + " MB";
  }

  @Command(name = "check", description = "Tests every connection of a site.")
  int check(@Parameters(paramLabel = "STAGE/SITE") String site) {
    String[] at = site(site).split("/", 2);
    List<ConnectionView> tested =
        api()
            .postList(
                "/sites/" + Api.encode(at[0]) + "/" + Api.encode(at[1]) + "/check",
                java.util.Map.of(),
                ConnectionView.class);
    boolean good = tested.stream().allMatch(c -> Objects.requireNonNull(c.test()).good());
    if (out().json()) {
      out().document("tests", tested);
    } else {
      List<List<String>> rows = new ArrayList<>();
      tested.forEach(
          c ->
              Objects.requireNonNull(c.test())
                  .probes()
                  .forEach(
                      p ->
                          rows.add(
                              List.of(
                                  c.name(),
                                  p.name(),
                                  out().state(p.good() ? "good" : "failed"),
                                  p.found(),
                                  p.advice()))));
      out().table(List.of("connection", "probe", "result", "found", "advice"), rows);
    }
    return good ? 0 : Failed.STOPPED;
  }
}
