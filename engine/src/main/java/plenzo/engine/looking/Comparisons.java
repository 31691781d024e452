package plenzo.engine.looking;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import plenzo.core.drift.Differing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.Differences;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.comparing.SiteIncoming;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** What a site holds otherwise than another site, or than a version; nothing is kept of it. */
public final class Comparisons {
  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Comparer comparer;

  public Comparisons(Tools tools, Targets targets, Contents contents, Comparer comparer) {
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
    this.comparer = comparer;
  }

  /**
   * Every part that differs: present is what the first site holds.
   *
   * @param sink gets structures, files and definitions first, then rows in the order of their keys
   */
  public void sites(
      Person by, String application, SiteKey of, SiteKey with, Consumer<Differing> sink) {
    Rights.require(by, Right.LOOK, of.stage(), application);
    Rights.require(by, Right.LOOK, with.stage(), application);
    if (of.equals(with)) {
      throw Problem.invalid("SAME", of + " cannot be compared with itself.", "/with");
    }
    List<Version> versions = new ArrayList<>();
    for (SiteKey site : List.of(with, of)) {
      tools
          .keeper()
          .read(kept -> kept.sites().find(application + "@" + site))
          .map(SiteRecord::present)
          .ifPresent(v -> versions.add(version(application, v)));
    }
    try (SiteLook other = targets.look(with)) {
      compare(application, of, new SiteIncoming(other, space(application), versions), sink);
    }
  }

  /** The same with a version instead of a second site. */
  public void version(
      Person by, String application, SiteKey of, SemVer with, Consumer<Differing> sink) {
    Rights.require(by, Right.LOOK, of.stage(), application);
    Version v = version(application, with);
    compare(application, of, new VersionIncoming(contents, v, v, Set.of()), sink);
  }

  /**
   * The version that was recorded at a site at the end of a past day, in the zone of its stage.
   *
   * @throws Problem when nothing was recorded there by then
   */
  public SemVer on(Person by, String application, SiteKey of, LocalDate day) {
    SiteRecord r = Recorded.at(tools, by, application, of);
    String zone =
        tools.keeper().read(kept -> kept.stages().find(of.stage())).map(Stage::zone).orElse("UTC");
    Instant end = day.plusDays(1).atStartOfDay(ZoneId.of(zone)).toInstant();
    return r.placements().stream()
        .filter(p -> p.at().isBefore(end))
        .reduce((a, b) -> b)
        .map(SiteRecord.Placement::version)
        .orElseThrow(
            () ->
                Problem.invalid(
                    "NOT_THERE",
                    application + " was not recorded at " + of + " by " + day + ".",
                    "/with"));
  }

  private void compare(
      String application, SiteKey of, Incoming incoming, Consumer<Differing> sink) {
    try (SiteLook look = targets.look(of)) {
      Compared c =
          comparer.compare(
              look,
              targets.all(of).stream().flatMap(at -> at.target().schemas().stream()).toList(),
              space(application),
              incoming,
              Map.of(),
              List.of());
      try {
        Differences all = new Differences(c, incoming);
        all.parts(space(application), sink);
        all.rows(sink);
      } finally {
        comparer.files().remove(c.id());
      }
    }
  }

  private Version version(String application, SemVer number) {
    return tools.keeper().read(kept -> kept.versions().get(application, number));
  }

  private String space(String application) {
    return tools.keeper().read(kept -> kept.application(application)).schema();
  }
}
