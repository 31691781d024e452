package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.CommitView;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.EntryView;
import plenzo.api.Versions.Verdict;

/** What commands about drafts, components and versions have in common. */
final class VersionText {
  private VersionText() {}

  /** A commit as a place that content comes from. */
  static String place(Group group, String application, @Nullable String revision) {
    CommitView c =
        group
            .api()
            .get(
                "/applications/"
                    + Api.encode(application)
                    + "/commit"
                    + Api.query("revision", revision),
                CommitView.class);
    if (!group.out().json()) {
      group
          .out()
          .note("Commit " + c.hash().substring(0, 12) + " by " + c.author() + ": " + c.message());
    }
    return "git/" + c.hash();
  }

  /** As many components as a version shows with its facts. */
  static final int SHOWN = 100;

  static final List<String> ENTRY_HEADS = List.of("component", "rows", "which", "digest", "from");

  static String components(String version) {
    String[] v = Group.parts(version, "fares@2.3.0");
    return "/versions/" + Api.encode(v[0]) + "/" + Api.encode(v[1]) + "/components";
  }

  static List<String> entry(EntryView e) {
    String rows = e.key().startsWith("records/") ? String.valueOf(e.rows()) : "";
    return List.of(e.key(), rows, e.which(), e.digest().substring(0, 12), e.origin());
  }

  static List<EntryView> entries(Group group, String version, @Nullable String find) {
    List<EntryView> out = new ArrayList<>();
    String cursor = null;
    do {
      EntryPage page =
          group
              .api()
              .get(
                  components(version) + Api.query("limit", "10000", "cursor", cursor, "find", find),
                  EntryPage.class);
      out.addAll(page.items());
      cursor = page.next();
    } while (cursor != null);
    return out;
  }

  /** Says good or bad of a version at a site. */
  static void judge(
      Group group,
      String application,
      String version,
      String site,
      boolean good,
      boolean bad,
      String reason,
      List<String> evidence) {
    if (good == bad) {
      throw Failed.usage("Say --good or --bad.");
    }
    RecordView r =
        group
            .api()
            .post(
                "/versions/" + Api.encode(application) + "/" + Api.encode(version) + "/verdict",
                new Verdict(site, good, reason, evidence),
                RecordView.class);
    if (group.out().json()) {
      group.out().document("record", r);
      return;
    }
    group
        .out()
        .line(
            application
                + "@"
                + version
                + " is judged "
                + (good ? "good" : "bad")
                + " at "
                + site
                + ": "
                + reason
                + (good || r.lastGood() == null
                    ? ""
                    : " Last good here: "
                        + r.lastGood()
                        + ". Next: plenzo rollback ways "
                        + application
                        + "@"
                        + site));
  }
}
