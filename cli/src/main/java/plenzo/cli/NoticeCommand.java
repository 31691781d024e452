package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import plenzo.api.Tellings.FollowingView;
import plenzo.api.Tellings.FreshView;
import plenzo.api.Tellings.NoticeView;
import plenzo.api.Tellings.Seen;
import plenzo.api.Tellings.Tried;

@Command(
    name = "notice",
    description = {
      "News of what you follow, in the console and by mail. Nobody is told of what they did"
          + " themselves, or of what they may not look at.",
      "Sorts of news: urgent (half written, users left out), failed, asked, runs, words, versions,"
          + " drift, setup. Nothing holds back what is urgent."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo notice list",
      "  plenzo notice follow --mail bram@morrowick.example --news urgent,failed,asked --quiet-hours 22:00-07:00 --zone Europe/Oslo",
      "  plenzo notice try"
    })
final class NoticeCommand extends Group {
  @Command(name = "list", description = "What is new, and what was, newest first.")
  void list() {
    Listed<NoticeView> all = api().pages("/notices", NoticeView.class, out().wanted());
    out()
        .list(
            "notices",
            all,
            List.of("entry", "when", "news", "what", "of", "at", "who", "text"),
            n ->
                List.of(
                    (n.fresh() ? "* " : "") + n.entry(),
                    out().time(n.at()),
                    n.news(),
                    n.event(),
                    (n.application() == null ? "" : n.application())
                        + (n.version() == null ? "" : "@" + n.version()),
                    n.stage() == null ? "" : n.stage() + (n.site() == null ? "" : "/" + n.site()),
                    n.actor(),
                    n.text()));
    FreshView fresh = api().get("/notices/fresh", FreshView.class);
    if (!out().json()) {
      out()
          .note(
              fresh.count() == 0
                  ? "Nothing is new."
                  : fresh.count()
                      + (fresh.more() ? " or more are" : fresh.count() == 1 ? " is" : " are")
                      + " new, marked *: plenzo notice seen.");
    }
  }

  @Command(name = "seen", description = "You have seen all of it.")
  void seen() {
    List<NoticeView> newest = api().pages("/notices", NoticeView.class, 1).items();
    FreshView fresh =
        api()
            .post(
                "/notices/seen",
                new Seen(newest.isEmpty() ? 0 : newest.get(0).entry()),
                FreshView.class);
    if (out().json()) {
      out().document("fresh", fresh);
    } else {
      out().line(fresh.count() == 0 ? "Nothing is new." : fresh.count() + " came meanwhile.");
    }
  }

  @Command(name = "show", description = "What you follow.")
  void show() {
    said(api().get("/notices/following", FollowingView.class));
  }

  @Command(name = "follow", description = "Changes what you follow; what is left out stays.")
  void follow(
      @Option(
              names = "--mail",
              paramLabel = "ADDRESS",
              description = "Where letters go; empty for the console alone.")
          @Nullable String mail,
      @Option(names = "--news", split = ",", description = "Sorts of news.")
          @Nullable List<String> news,
      @Option(names = "--stage", description = "Only of these; repeatable, empty for all.")
          @Nullable List<String> stages,
      @Option(names = "--app", description = "Only of these; repeatable, empty for all.")
          @Nullable List<String> applications,
      @Option(
              names = "--quiet-hours",
              paramLabel = "HH:MM-HH:MM",
              description = "Hours without letters; empty for none.")
          @Nullable String quiet,
      @Option(names = "--zone", description = "In which the quiet hours are meant.")
          @Nullable String zone) {
    FollowingView was = api().get("/notices/following", FollowingView.class);
    String[] hours = hours(quiet, was);
    said(
        api()
            .put(
                "/notices/following",
                new FollowingView(
                    mail == null ? was.mail() : mail,
                    some(stages, was.stages()),
                    some(applications, was.applications()),
                    some(news, was.news()),
                    null,
                    hours[0],
                    hours[1],
                    zone == null ? was.zone() : zone,
                    null),
                FollowingView.class));
  }

  private static List<String> some(@Nullable List<String> said, List<String> was) {
    return said == null ? was : said.stream().filter(s -> !s.isBlank()).toList();
  }

  private static @Nullable String[] hours(@Nullable String quiet, FollowingView was) {
    if (quiet == null) {
      return new String[] {was.quietFrom(), was.quietUntil()};
    }
    if (quiet.isBlank()) {
      return new String[] {null, null};
    }
    String[] parts = quiet.split("-");
    if (parts.length != 2) {
      throw Failed.usage("Say quiet hours as 22:00-07:00; got \"" + quiet + "\".");
    }
    return parts;
  }

  private void said(FollowingView f) {
    if (out().json()) {
      out().document("following", f);
      return;
    }
    out()
        .facts(
            "News",
            f.news().isEmpty() ? "none" : String.join(", ", f.news()),
            "Of",
            (f.applications().isEmpty() ? "everything" : String.join(", ", f.applications()))
                + (f.stages().isEmpty() ? "" : " at " + String.join(", ", f.stages())),
            "By mail to",
            f.mail().isEmpty()
                ? "nobody: the console alone"
                : f.mail()
                    + (Boolean.FALSE.equals(f.byMail())
                        ? " (no letter is sent: the service has no mail server)"
                        : ""),
            "Quiet",
            f.quietFrom() == null
                ? "never"
                : f.quietFrom()
                    + " to "
                    + f.quietUntil()
                    + " "
                    + f.zone()
                    + ", but for what is urgent");
  }

  @Command(name = "try", description = "Sends you a letter now.")
  void tryMail() {
    Tried t = api().post("/notices/try", Map.of(), Tried.class);
    if (out().json()) {
      out().document("tried", t);
    } else {
      out().line("A letter to " + t.to() + " was taken by the mail server.");
    }
  }
}
