package plenzo.cli;

import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import plenzo.api.Standings.NewerView;
import plenzo.api.Standings.UnderwayView;

@Command(
    name = "server",
    description = "The service itself.",
    footer = {"", "Examples:", "  plenzo server underway", "  plenzo server newer"})
final class ServerCommand extends Group {
  @Command(
      name = "newer",
      description =
          "Runs that targets remember and the records do not know: the records are older, or an"
              + " earlier copy was brought back. Exit code 14 when there are any.")
  int newer() {
    List<NewerView> found = api().list("/server/newer", NewerView.class);
    list(found);
    return found.isEmpty() ? 0 : Failed.DIFFERENT;
  }

  private void list(List<NewerView> found) {
    out()
        .list(
            "runs",
            found,
            List.of("site", "target", "run", "version"),
            n -> List.of(n.site(), n.target(), n.run(), n.version()));
  }

  @Command(
      name = "underway",
      description = {
        "What takes its time at the service now, and what ended in the last ten minutes:",
        "adopting, checking, sealing, comparing, building, receiving, bringing in.",
        "It goes on when whoever began it leaves; receiving ends with the sending."
      })
  void underway() {
    out()
        .list(
            "work",
            api().list("/underway", UnderwayView.class),
            List.of("work", "of", "by", "since", "so far", "ended", "outcome"),
            w ->
                List.of(
                    w.act(),
                    w.about(),
                    w.by(),
                    out().time(w.began()),
                    Telling.words(w),
                    w.ended() == null ? "" : out().time(w.ended()),
                    w.ended() == null ? "" : w.outcome().isEmpty() ? "done" : w.outcome()));
  }

  @Command(
      name = "catch-up",
      description = {
        "Says that the records stay older than the targets.",
        "What those runs brought is not recorded and shows as drift; runs are numbered",
        "behind them from now on."
      })
  void catchUp() {
    if (!top().yes) {
      throw Failed.confirm(
          "What is recorded of these sites stays as it is, although runs changed them since.",
          "plenzo server catch-up --yes");
    }
    List<NewerView> done = api().postList("/server/catch-up", Map.of(), NewerView.class);
    list(done);
  }
}
