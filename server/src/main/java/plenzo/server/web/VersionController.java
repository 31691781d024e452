package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.RowPage;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.AddToDraft;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.ContentView;
import plenzo.api.Versions.ConvertColumn;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DropFromDraft;
import plenzo.api.Versions.DroppingView;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.EntryView;
import plenzo.api.Versions.FateView;
import plenzo.api.Versions.Going;
import plenzo.api.Versions.MoveInDraft;
import plenzo.api.Versions.NewDraft;
import plenzo.api.Versions.PresentAt;
import plenzo.api.Versions.Reason;
import plenzo.api.Versions.Removals;
import plenzo.api.Versions.RenamedColumn;
import plenzo.api.Versions.Seal;
import plenzo.api.Versions.TakeUp;
import plenzo.api.Versions.TwoColumns;
import plenzo.api.Versions.Verdict;
import plenzo.api.Versions.VersionView;
import plenzo.api.Versions.WriterView;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.NameSearch;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.Draft;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.core.version.Written;
import plenzo.engine.Engine;
import plenzo.engine.sealing.Contained;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.sealing.Sources;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Components at a source, drafts, versions and verdicts. */
@RestController
@RequestMapping("/api/v1")
class VersionController {
  private static final int MOST_ENTRIES = 10_000;

  private final Engine engine;
  private final StandingController standings;

  VersionController(Engine engine, StandingController standings) {
    this.engine = engine;
    this.standings = standings;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /**
   * What a source holds against a version.
   *
   * @param find words that the name, the kind in people's words, or the uid must meet, or who
   *     changed it last
   * @param kind one kind alone; grants that the version does not carry are listed where this or a
   *     word of {@code find} asks for them
   * @param changedSince a day or a moment: what was changed before is left out; of what no time is
   *     known is not
   */
  @GetMapping("/components")
  List<ComponentView> components(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam String since,
      @RequestParam(defaultValue = "") String find,
      @RequestParam(required = false) @Nullable String kind,
      @RequestParam(required = false) @Nullable String changedSince,
      HttpServletRequest request) {
    Instant from = changedSince == null ? Instant.MIN : moment(changedSince);
    Sources.Held held =
        engine
            .sources()
            .against(
                by(request),
                application,
                SiteKey.of(site),
                new SemVer(since),
                "grant".equals(kind) || NameSearch.names(find, Kind.GRANT));
    return Stream.concat(
            held.components().stream()
                .filter(c -> kind == null || c.key().kind().code().equals(kind))
                .filter(c -> NameSearch.meets(find, c.key(), c.uid()) || isBy(c.last().by(), find))
                .filter(c -> c.last().at() == null || !c.last().at().isBefore(from))
                .map(
                    c ->
                        new ComponentView(
                            c.key().toString(),
                            c.state(),
                            c.changes(),
                            c.problem(),
                            c.last().by(),
                            c.last().at())),
            Stream.concat(held.refused().stream(), held.passedOver().stream())
                .filter(r -> kind == null && r.path().contains(find))
                .map(
                    r ->
                        new ComponentView(
                            r.path(),
                            "refused",
                            "no component",
                            "cannot be carried: " + r.why(),
                            null,
                            null)))
        .toList();
  }

  /** A day, from its first second in UTC on, or a moment. */
  private static Instant moment(String text) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).atStartOfDay(ZoneOffset.UTC).toInstant();
    } catch (DateTimeParseException e) {
      throw Problem.invalid(
          "MOMENT",
          "\"" + text + "\" is no day such as 2027-01-31 and no time such as 2027-01-31T08:00:00Z.",
          "/changedSince");
    }
  }

  /** Whether somebody whose name is sought changed it last. */
  private static boolean isBy(@Nullable String author, String find) {
    return author != null
        && !find.isBlank()
        && author.toLowerCase(Locale.ROOT).contains(find.strip().toLowerCase(Locale.ROOT));
  }

  /** What one component holds at a source, and what of it differs from a version. */
  @GetMapping("/components/content")
  ContentView content(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam String since,
      @RequestParam String component,
      HttpServletRequest request) {
    Person by = by(request);
    SiteKey place = SiteKey.of(site);
    Contained.Read read =
        engine
            .contained()
            .read(by, application, place, ComponentKey.of(component), new SemVer(since));
    // what lies in a repository is the application's at every stage
    String stage = place.stage().equals(Sources.GIT) ? Person.ANY : place.stage();
    VisibleValues sight = VisibleValues.of(engine, by, stage, application);
    return ContentText.view(engine, read, sight);
  }

  @GetMapping("/drafts")
  Page<DraftView> drafts(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String state,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Kept.Filter filter = Kept.Filter.application(application);
    if (state != null) {
      filter = filter.in(List.of(Draft.State.of(state).code()));
    }
    return Paging.page(
        engine.drafts().list(by(request), Paging.part(filter, cursor, limit)), this::view);
  }

  DraftView view(Draft d) {
    return view(d, List.of());
  }

  private DraftView view(Draft d, List<String> notTaken) {
    return Views.draft(d, engine.drafts().proposed(d), notTaken);
  }

  @PostMapping("/drafts")
  DraftView newDraft(@RequestBody NewDraft asked, HttpServletRequest request) {
    return view(
        engine
            .drafts()
            .start(
                by(request),
                asked.application(),
                asked.from() == null ? null : new SemVer(asked.from())));
  }

  @GetMapping("/drafts/{id}")
  DraftView draft(@PathVariable String id, HttpServletRequest request) {
    return view(engine.drafts().get(by(request), id));
  }

  /** Edits are of the revision that was looked at, where the caller says which. */
  private Drafts drafts(HttpServletRequest request) {
    return engine.drafts().seen(IfMatch.revision(request, null));
  }

  @DeleteMapping("/drafts/{id}")
  DraftView discard(@PathVariable String id, HttpServletRequest request) {
    return view(drafts(request).discard(by(request), id));
  }

  @PostMapping("/drafts/{id}/add")
  DraftView add(
      @PathVariable String id, @RequestBody AddToDraft asked, HttpServletRequest request) {
    Drafts.Added added =
        drafts(request)
            .add(
                by(request),
                id,
                SiteKey.of(asked.site()),
                asked.picks().stream().map(StageController::pick).toList(),
                Boolean.TRUE.equals(asked.whatCanBe()));
    return view(added.draft(), added.notTaken());
  }

  /** Begins from a newer version that was made from the same one. */
  @PostMapping("/drafts/{id}/take-up")
  DraftView takeUp(@PathVariable String id, @RequestBody TakeUp asked, HttpServletRequest request) {
    return view(drafts(request).takeUp(by(request), id, new SemVer(asked.version())));
  }

  /** What dropping a component would take along; changes nothing. */
  @GetMapping("/drafts/{id}/drop")
  DroppingView dropping(
      @PathVariable String id, @RequestParam String component, HttpServletRequest request) {
    Drafts.Dropping d = engine.drafts().dropping(by(request), id, ComponentKey.of(component));
    return new DroppingView(
        component,
        d.goes().stream().map(p -> new Going(p.key().toString(), p.reason())).toList(),
        d.neededBy());
  }

  @PostMapping("/drafts/{id}/drop")
  DraftView drop(
      @PathVariable String id, @RequestBody DropFromDraft asked, HttpServletRequest request) {
    return view(drafts(request).drop(by(request), id, ComponentKey.of(asked.component())));
  }

  @PostMapping("/drafts/{id}/removals")
  DraftView removals(
      @PathVariable String id, @RequestBody Removals asked, HttpServletRequest request) {
    return view(
        drafts(request)
            .removals(by(request), id, asked.removals().stream().map(Removal::of).toList()));
  }

  /** A person's word that a gone and a new column are two columns, not one that was renamed. */
  @PostMapping("/drafts/{id}/two-columns")
  DraftView twoColumns(
      @PathVariable String id, @RequestBody TwoColumns asked, HttpServletRequest request) {
    return view(
        drafts(request)
            .twoColumns(
                by(request), id, ComponentKey.of(asked.component()), asked.was(), asked.is()));
  }

  /**
   * A person's word that what is gone, or has a name that another took, and what is new are one:
   * its values go with it.
   */
  @PostMapping("/drafts/{id}/renamed")
  DraftView renamed(
      @PathVariable String id, @RequestBody RenamedColumn asked, HttpServletRequest request) {
    return view(
        drafts(request)
            .renamed(by(request), id, ComponentKey.of(asked.component()), asked.was(), asked.is()));
  }

  /** States what the values of a column are worked out from, or that nothing is stated any more. */
  @PostMapping("/drafts/{id}/convert")
  DraftView convert(
      @PathVariable String id, @RequestBody ConvertColumn asked, HttpServletRequest request) {
    return view(
        drafts(request)
            .convert(
                by(request),
                id,
                ComponentKey.of(asked.component()),
                asked.column(),
                asked.expression(),
                Boolean.TRUE.equals(asked.back())));
  }

  /** Writes one picked component before another, within what needs allow. */
  @PostMapping("/drafts/{id}/move")
  DraftView move(
      @PathVariable String id, @RequestBody MoveInDraft asked, HttpServletRequest request) {
    return view(
        drafts(request)
            .move(
                by(request),
                id,
                new Before(ComponentKey.of(asked.component()), ComponentKey.of(asked.before()))));
  }

  @PostMapping("/drafts/{id}/check")
  DraftView checkDraft(@PathVariable String id, HttpServletRequest request) {
    return view(drafts(request).check(by(request), id));
  }

  @PostMapping("/drafts/{id}/seal")
  VersionView seal(@PathVariable String id, @RequestBody Seal asked, HttpServletRequest request) {
    return view(
        by(request),
        drafts(request)
            .seal(
                by(request),
                id,
                new Drafts.Statement(
                    new SemVer(asked.number()),
                    asked.title(),
                    asked.notes() == null ? "" : asked.notes(),
                    asked.needs() == null ? null : asked.needs().stream().map(Need::of).toList(),
                    asked.tasks() == null ? List.of() : asked.tasks(),
                    ManualShown.steps(asked.manual())))
            .head());
  }

  @GetMapping("/versions")
  Page<VersionView> versions(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String number,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    if (application == null) {
      if (number == null) {
        throw Problem.invalid(
            "APPLICATION", "Name an application, or how the number begins.", "/application");
      }
      return Paging.page(
          Slice.whole(engine.versions().numbered(by, number, Paging.limit(limit))),
          v -> view(by, v, sites(v.application())));
    }
    List<SiteRecord> sites = sites(application);
    return Paging.page(
        engine
            .versions()
            .list(by, Paging.part(Kept.Filter.application(application), cursor, limit)),
        v -> view(by, v, sites));
  }

  private List<SiteRecord> sites(String application) {
    return engine
        .tools()
        .keeper()
        .read(kept -> kept.sites().list(Kept.Filter.application(application)));
  }

  @GetMapping("/versions/{application}/{number}")
  VersionView version(
      @PathVariable String application, @PathVariable String number, HttpServletRequest request) {
    return view(by(request), engine.versions().head(by(request), application, new SemVer(number)));
  }

  /**
   * Components of a version by key, at most 10,000 at a time; the cursor is what the page before
   * named as next.
   */
  @GetMapping("/versions/{application}/{number}/components")
  EntryPage versionComponents(
      @PathVariable String application,
      @PathVariable String number,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(required = false) @Nullable String find,
      @RequestParam(defaultValue = "200") int limit,
      HttpServletRequest request) {
    long skip = cursor == null ? 0 : PromotionController.number(cursor, "");
    List<VersionEntry> found =
        engine.versions().get(by(request), application, new SemVer(number)).entries().stream()
            .filter(e -> find == null || NameSearch.meets(find, e.key(), e.uid()))
            .toList();
    List<EntryView> items =
        found.stream()
            .skip(skip)
            .limit(Math.max(1, Math.min(limit, MOST_ENTRIES)))
            .map(
                e ->
                    new EntryView(
                        e.key().toString(),
                        e.uid(),
                        e.content().hex(),
                        e.rows(),
                        Shown.plain(e.which()),
                        e.origin()))
            .toList();
    long next = skip + items.size();
    return new EntryPage(items, next < found.size() ? String.valueOf(next) : null, found.size());
  }

  /** What changed from one version to another; components with the same content are left out. */
  @GetMapping("/versions/{application}/{from}/compare/{to}")
  List<ComponentChange> compareVersions(
      @PathVariable String application,
      @PathVariable String from,
      @PathVariable String to,
      HttpServletRequest request) {
    return Views.components(
        engine.versions().compare(by(request), application, new SemVer(from), new SemVer(to)));
  }

  /** Rows of one component that differ between two versions. */
  @GetMapping("/versions/{application}/{from}/compare/{to}/rows")
  RowPage comparedRows(
      @PathVariable String application,
      @PathVariable String from,
      @PathVariable String to,
      @RequestParam String component,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(required = false) @Nullable String find,
      HttpServletRequest request) {
    Person by = by(request);
    ComponentKey key = ComponentKey.of(component);
    long skip = cursor == null ? 0 : PromotionController.number(cursor, "");
    RowAnswer answer =
        new RowAnswer(
            key,
            VisibleValues.of(engine, by, Person.EVERY, application),
            skip,
            PromotionController.PAGE,
            find,
            /* all= */ false);
    long[] seen = {0};
    engine
        .versions()
        .rows(
            by,
            application,
            new SemVer(from),
            new SemVer(to),
            key,
            row -> {
              if (seen[0]++ >= skip) {
                answer.take(row);
              }
            });
    return answer.page(seen[0]);
  }

  /** What became of a version: where it came and left, how it was judged, who withdrew it. */
  @GetMapping("/versions/{application}/{number}/fate")
  List<FateView> fate(
      @PathVariable String application, @PathVariable String number, HttpServletRequest request) {
    return engine.versions().fate(by(request), application, new SemVer(number)).stream()
        .map(
            f ->
                new FateView(
                    f.what(),
                    f.site() == null ? "" : f.site().toString(),
                    f.at(),
                    f.by(),
                    Shown.plain(f.text())))
        .toList();
  }

  @PostMapping("/versions/{application}/{number}/withdraw")
  VersionView withdrawVersion(
      @PathVariable String application,
      @PathVariable String number,
      @RequestBody Reason asked,
      HttpServletRequest request) {
    return view(
        by(request),
        engine.versions().withdraw(by(request), application, new SemVer(number), asked.reason()));
  }

  /** Good or bad, said of the version at a site. */
  @PostMapping("/versions/{application}/{number}/verdict")
  RecordView judge(
      @PathVariable String application,
      @PathVariable String number,
      @RequestBody Verdict asked,
      HttpServletRequest request) {
    return standings.view(
        by(request),
        engine
            .verdicts()
            .judge(
                by(request),
                application,
                SiteKey.of(asked.site()),
                new SemVer(number),
                asked.good(),
                asked.reason(),
                asked.evidence() == null
                    ? List.of()
                    : asked.evidence().stream()
                        .map(e -> PromotionController.number(e, "E-"))
                        .toList()));
  }

  VersionView view(Person by, VersionHead v) {
    return view(by, v, sites(v.application()));
  }

  private VersionView view(Person by, VersionHead v, List<SiteRecord> sites) {
    List<PresentAt> at = new ArrayList<>();
    for (SiteRecord r : sites) {
      if (v.number().equals(r.present()) && by.may(Right.LOOK, r.site().stage(), v.application())) {
        at.add(
            new PresentAt(
                r.site().toString(),
                r.verdict(v.number()).map(x -> x.good() ? "good" : "bad").orElse(null)));
      }
    }
    return new VersionView(
        v.application(),
        v.number().text(),
        v.parent() == null ? null : v.parent().text(),
        v.digest().hex(),
        v.title(),
        v.notes(),
        v.author(),
        v.sealedAt(),
        v.source(),
        v.withdrawn(),
        v.kinds(),
        Views.texts(v.removals()),
        Views.texts(v.needs()),
        Views.texts(v.order()),
        Views.texts(v.tasks()),
        ManualShown.views(v.manual()),
        v.written().authors().stream()
            .map(
                a ->
                    new WriterView(
                        Shown.plain(a), Written.person(a, engine.tools().everybody()).orElse(null)))
            .toList(),
        v.written().whole(),
        Views.texts(v.coverage()),
        at);
  }
}
