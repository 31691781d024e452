package plenzo.engine.looking;

import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.drift.Differing;
import plenzo.core.drift.Left;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.DriftList;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.RecordsAge;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.SiteNumbers;
import plenzo.engine.setup.Targets;

/** Whether sites still hold what is recorded there, and what becomes of what they do not. */
public final class Drift {
  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Comparer comparer;
  private final RecordsAge age;
  private final DriftList list;
  private final SiteNumbers numbers;
  private final Map<String, Object> locks = new ConcurrentHashMap<>();

  public Drift(Tools tools, Targets targets, Contents contents, Comparer comparer) {
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
    this.comparer = comparer;
    this.age = new RecordsAge(tools, targets);
    this.list = new DriftList(tools);
    this.numbers = new SiteNumbers(tools);
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
    // a look takes the place of the list of the one before, so there is one at a time
    synchronized (locks.computeIfAbsent(application + "@" + site, key -> new Object())) {
      return lookAlone(application, site, rows);
    }
  }

  private SiteRecord lookAlone(String application, SiteKey site, boolean rows) {
    SiteRecord r =
        tools
            .keeper()
            .read(kept -> kept.sites().find(application + "@" + site))
            .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
    SemVer present = r.present();
    if (present == null || between(application, site)) {
      return r; // what is there is what a run put there, and it is not recorded yet
    }
    Version v =
        tools
            .keeper()
            .read(kept -> kept.versions().find(application + "@" + present))
            .orElseThrow();
    SiteRecord.Look found;
    Application a =
        tools.keeper().read(kept -> kept.applications().find(application)).orElseThrow();
    try (SiteLook looking = targets.look(site)) {
      found = looked(r, v, a, looking, rows);
      if (found.structure() == 0 && !numbers.has(application, site, present)) {
        numbers.remember(application, site, present, looking, v.tables());
      }
    } catch (TargetFailed e) {
      found = r.look().unseen();
    }
    SiteRecord.Look look = found;
    SiteRecord after =
        tools
            .keeper()
            .writeAgain(
                kept -> {
                  SiteRecord now = kept.sites().find(r.id()).orElseThrow();
                  if (!present.equals(now.present())
                      || now.placements().size() != r.placements().size()) {
                    return now; // something came while it was looked at: this look is of before
                  }
                  kept.sites().replace(now.looked(look));
                  if (now.drift() <= 0 && now.looked(look).drift() > 0) {
                    Recorded.note(
                        tools,
                        kept,
                        "plenzo",
                        now,
                        "drift found",
                        String.join("; ", look.examples()));
                  }
                  if (now.older() != look.older() && look.older() > 0) {
                    Recorded.note(
                        tools,
                        kept,
                        "plenzo",
                        now,
                        "records are older",
                        "The site was changed by R-"
                            + look.older()
                            + ", which Plenzo's records do not know");
                  }
                  return kept.sites().find(r.id()).orElseThrow();
                });
    if (!Objects.equals(r.look().list(), look.list())) {
      boolean took = Objects.equals(after.look().list(), look.list());
      list.remove(took ? r.look().list() : look.list());
    }
    return after;
  }

  /** Whether a run has switched there and has not recorded what it brought. */
  private boolean between(String application, SiteKey site) {
    return tools.keeper().read(kept -> kept.underWay(application, site)).stream()
        .anyMatch(Run::between);
  }

  private SiteRecord.Look looked(
      SiteRecord r, Version v, Application a, SiteLook looking, boolean rows) {
    VersionIncoming whole = new VersionIncoming(contents, v, v, Set.of());
    VersionIncoming recorded = rows ? whole : whole.structures();
    Compared c =
        comparer.compare(
            looking,
            targets.all(r.site()).stream().flatMap(at -> at.target().schemas().stream()).toList(),
            a.schema(),
            recorded,
            Map.of(),
            r.settled(tools.now()));
    try {
      long older = age.newerRun(r.site(), looking);
      String written = list.write(r, looking, c, recorded, a.schema(), rows);
      // what was known of rows stays until they are looked at again
      List<String> examples = new ArrayList<>(c.driftExamples());
      if (!rows) {
        r.look().examples().stream().filter(e -> e.startsWith("records/")).forEach(examples::add);
      }
      return new SiteRecord.Look(
          c.structureDrift(),
          rows ? c.recordsDrift() : r.look().records(),
          examples,
          tools.now(),
          /* reachable= */ true,
          older,
          written);
    } finally {
      comparer.files().remove(c.id());
    }
  }

  /**
   * All that differs at a site, as the last look found it.
   *
   * @param head null when nobody looked yet
   */
  public record Found(
      SiteRecord record, DriftList.@Nullable Head head, DriftList.Part part, String owner) {}

  /**
   * A part of what the last look found.
   *
   * @param asked which lines
   * @param from 0, or what the part before said is next
   */
  public Found found(
      Person by,
      String application,
      SiteKey site,
      Predicate<Differing> asked,
      long from,
      int limit) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    try {
      return found(r, asked, from, limit);
    } catch (UncheckedIOException e) {
      // another look took the place of that list while it was read
      return found(Recorded.at(tools, by, application, site), asked, from, limit);
    }
  }

  private Found found(SiteRecord r, Predicate<Differing> asked, long from, int limit) {
    String name = r.look().list();
    DriftList.Head head = list.head(name);
    return new Found(
        r,
        head,
        head == null || name == null
            ? new DriftList.Part(List.of(), 0)
            : list.part(name, from, limit, asked),
        application(r.application()).owner());
  }

  /** Every line of what the last look found. */
  public void each(Person by, String application, SiteKey site, Consumer<DriftList.Line> sink) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    String name = r.look().list();
    if (list.head(name) != null && name != null) {
      list.each(name, x -> true, sink);
    }
  }

  private Application application(String key) {
    return tools.keeper().read(kept -> kept.applications().find(key)).orElseThrow();
  }

  /**
   * Says that parts stay as they are for a time, although they differ: they count as no drift until
   * then. They are shown further on.
   *
   * @param places components, or parts of them, of the version that is recorded there
   */
  public SiteRecord leave(
      Person by,
      String application,
      SiteKey site,
      List<String> places,
      String reason,
      LocalDate until) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    Rights.require(by, Right.OPERATE, site.stage(), application);
    if (reason.isBlank() || until.isBefore(LocalDate.ofInstant(tools.now(), ZoneOffset.UTC))) {
      throw Problem.invalid(
          "REASON", "What differs is left with a reason and until a day to come.", "/until");
    }
    requireNamed(places);
    List<Left> said =
        places.stream().map(at -> new Left(at, reason, by.login(), tools.now(), until)).toList();
    return settled(
        by,
        r,
        now -> now.withLeft(said),
        "drift left",
        String.join(", ", places) + " until " + until + ": " + reason);
  }

  /** Takes back that parts stay as they are. */
  public SiteRecord leaveNoMore(Person by, String application, SiteKey site, List<String> places) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    Rights.require(by, Right.OPERATE, site.stage(), application);
    requireNamed(places);
    return settled(
        by, r, now -> now.withoutLeft(places), "drift left no more", String.join(", ", places));
  }

  private static void requireNamed(List<String> places) {
    if (places.isEmpty()) {
      throw Problem.invalid("PLACES", "Name what is left as it is.", "/places");
    }
  }

  /** Writes it down, and looks again: what counts is what is found then. */
  private SiteRecord settled(
      Person by, SiteRecord r, UnaryOperator<SiteRecord> change, String event, String text) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              SiteRecord now = kept.sites().find(r.id()).orElseThrow();
              kept.sites().replace(change.apply(now));
              Recorded.note(tools, kept, by.login(), now, event, text);
              return null;
            });
    return look(r.application(), r.site(), /* rows= */ true);
  }

  /** After a start: removes lists that a look left when it was cut off. */
  public void tidy() {
    list.tidy(
        tools.keeper().read(kept -> kept.sites().all()).stream()
            .map(r -> r.look().list())
            .filter(Objects::nonNull)
            .toList());
  }
}
