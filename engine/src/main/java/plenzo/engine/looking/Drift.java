package plenzo.engine.looking;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.RecordsAge;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Whether sites still hold what is recorded there. */
public final class Drift {
  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Comparer comparer;
  private final RecordsAge age;

  public Drift(Tools tools, Targets targets, Contents contents, Comparer comparer) {
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
    this.comparer = comparer;
    this.age = new RecordsAge(tools, targets);
  }

  /** Looks whether a site still holds what is recorded there. */
  public SiteRecord look(Person by, String application, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return look(application, site, /* rows= */ true);
  }

  /**
   * The same without a person: the scheduled look.
   *
   * @param rows whether rows are looked at too, which costs the site a read of them all
   */
  public SiteRecord look(String application, SiteKey site, boolean rows) {
    SiteRecord r =
        tools
            .keeper()
            .read(kept -> kept.sites().find(application + "@" + site))
            .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
    SemVer present = r.present();
    if (present == null) {
      return r;
    }
    Version v =
        tools
            .keeper()
            .read(kept -> kept.versions().find(application + "@" + present))
            .orElseThrow();
    SiteRecord seen;
    Application a =
        tools.keeper().read(kept -> kept.applications().find(application)).orElseThrow();
    try (SiteLook looking = targets.look(site)) {
      VersionIncoming recorded = new VersionIncoming(contents, v, v, Set.of());
      Compared c =
          comparer.compare(
              looking,
              targets.all(site).stream().flatMap(at -> at.target().schemas().stream()).toList(),
              a.schema(),
              rows ? recorded : recorded.structures(),
              Map.of(),
              r.exceptions());
      comparer.files().remove(c.id());
      long older = age.newerRun(site, looking);
      seen = r.looked(rows ? whole(c, older) : structure(c, r.look(), older));
    } catch (TargetFailed e) {
      seen = r.unreachable();
    }
    SiteRecord.Look found = seen.look();
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              SiteRecord now = kept.sites().find(r.id()).orElseThrow();
              if (!present.equals(now.present())
                  || now.placements().size() != r.placements().size()) {
                return now; // something came here while it was looked at: this look is of before
              }
              kept.sites().replace(now.looked(found));
              if (now.drift() <= 0 && now.looked(found).drift() > 0) {
                note(kept, now, "drift found", String.join("; ", found.examples()));
              }
              if (now.older() != found.older() && found.older() > 0) {
                note(
                    kept,
                    now,
                    "records are older",
                    "The site was changed by R-"
                        + found.older()
                        + ", which Plenzo's records do not know");
              }
              return kept.sites().find(r.id()).orElseThrow();
            });
  }

  private void note(Kept kept, SiteRecord r, String what, String text) {
    kept.note(
        new Event(
            "plenzo",
            what,
            r.application(),
            r.site().stage(),
            r.site().site(),
            String.valueOf(r.present()),
            null,
            null,
            text),
        tools.now());
  }

  private SiteRecord.Look whole(Compared c, long older) {
    return new SiteRecord.Look(
        c.structureDrift(), c.recordsDrift(), c.driftExamples(), tools.now(), true, older);
  }

  /** What was known of rows stays until they are looked at again. */
  private SiteRecord.Look structure(Compared c, SiteRecord.Look before, long older) {
    List<String> examples = new ArrayList<>(c.driftExamples());
    before.examples().stream().filter(e -> e.startsWith("records/")).forEach(examples::add);
    return new SiteRecord.Look(
        c.structureDrift(), before.records(), examples, tools.now(), true, older);
  }
}
