package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Drifts.ComparedSidesView;
import plenzo.api.Drifts.DriftView;
import plenzo.api.Drifts.GroupView;
import plenzo.api.Drifts.LeaveAsked;
import plenzo.api.Drifts.LineView;
import plenzo.api.Drifts.PlacesAsked;
import plenzo.api.Drifts.PutBackAsked;
import plenzo.api.Drifts.SettleMay;
import plenzo.api.Drifts.SideLineView;
import plenzo.api.Drifts.ValuesAsked;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.DraftView;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.drift.Differing;
import plenzo.core.drift.PutBack;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.comparing.DriftList;
import plenzo.engine.looking.Drift;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;
import tools.jackson.databind.json.JsonMapper;

/** What differs at a site from what is recorded there, and what becomes of it. */
@RestController
@RequestMapping("/api/v1/records/{application}/{stage}/{site}")
class DriftController {
  private static final String DAY = "\\d{4}-\\d{2}-\\d{2}";

  private final Engine engine;
  private final PromotionController promotions;
  private final StandingController standings;
  private final VersionController versions;
  private final JsonMapper json;

  DriftController(
      Engine engine,
      PromotionController promotions,
      StandingController standings,
      VersionController versions,
      JsonMapper json) {
    this.engine = engine;
    this.promotions = promotions;
    this.standings = standings;
    this.versions = versions;
    this.json = json;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /** A page of all that differs, as the last look found it; of one component, or of one sort. */
  @GetMapping("/drift")
  DriftView drift(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestParam(required = false) @Nullable String component,
      @RequestParam(required = false) @Nullable String how,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    SiteKey key = new SiteKey(stage, site);
    Drift.Found found =
        engine
            .drift()
            .found(
                by,
                application,
                key,
                asked(component, how),
                Paging.from(cursor),
                Paging.limit(limit));
    DriftList.Head head = found.head();
    SiteRecord r = found.record();
    Stage at = engine.stages().get(by, stage);
    VisibleValues sight = VisibleValues.of(engine, by, stage, application);
    return new DriftView(
        application,
        key.toString(),
        r.present() == null ? null : r.present().text(),
        at.name(),
        at.production(),
        found.owner(),
        head == null ? null : head.at(),
        head == null ? null : head.rowsAt(),
        r.look().reachable(),
        head == null ? 0 : head.all(),
        head == null ? 0 : head.listed(),
        head == null ? List.of() : head.groups().stream().map(DriftController::group).toList(),
        found.part().lines().stream().map(l -> line(l, r, sight)).toList(),
        found.part().next() == 0 ? null : String.valueOf(found.part().next()),
        Views.left(r, engine.tools().now(), sight),
        new SettleMay(
            Views.may(may(by, Right.PREPARE, application, stage)),
            Views.may(may(by, Right.OPERATE, application, stage)),
            Views.may(may(by, Right.AUTHOR, application, Person.ANY))));
  }

  private May may(Person by, Right right, String application, String stage) {
    return May.byRight(by, right, stage, application, engine.tools().everybody());
  }

  private static Predicate<Differing> asked(@Nullable String component, @Nullable String how) {
    try {
      ComponentKey key = component == null ? null : ComponentKey.of(component);
      Differing.How sort = how == null ? null : Differing.How.of(how);
      return d -> (key == null || d.component().equals(key)) && (sort == null || d.how() == sort);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("FILTER", e.getMessage() + ".", "/component");
    }
  }

  private static GroupView group(DriftList.Group g) {
    return new GroupView(
        g.component().toString(),
        g.changed(),
        g.gone(),
        g.onlyThere(),
        g.run() == null ? null : "R-" + g.run(),
        g.author());
  }

  private LineView line(DriftList.Line l, SiteRecord r, VisibleValues sight) {
    SideLineView d = side(l.what(), sight);
    return new LineView(
        d.place(),
        d.component(),
        d.how(),
        d.attributes(),
        d.valuesHidden(),
        l.since(),
        settled(r, l.what()));
  }

  private @Nullable String settled(SiteRecord r, Differing d) {
    if (r.left().stream().anyMatch(x -> x.holds(engine.tools().now()) && x.covers(d.place()))) {
      return "left";
    }
    return r.exceptions().contains(d.place()) || r.exceptions().contains(d.component().toString())
        ? "kept"
        : null;
  }

  /** All that differs as a CSV file, a line an attribute: incoming is what is recorded. */
  @GetMapping(value = "/drift/file", produces = "text/csv")
  void file(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      HttpServletRequest request,
      HttpServletResponse response) {
    Person by = by(request);
    SiteKey key = new SiteKey(stage, site);
    VisibleValues sight = VisibleValues.of(engine, by, stage, application);
    CsvAnswer answer =
        new CsvAnswer(response, application + "-" + stage + "-" + site + "-drift.csv");
    engine.standing().record(by, application, key); // refused before the answer begins
    answer.accept(RowAnswer.head() + ",\"since\"");
    engine
        .drift()
        .each(
            by,
            application,
            key,
            l ->
                RowAnswer.lines(
                    l.what().component(),
                    l.what().how().code(),
                    part(l.what(), sight),
                    l.what().attributes(),
                    sight,
                    answer,
                    l.since().toString()));
    answer.finish();
  }

  /** The same as a JSON document. */
  @GetMapping(value = "/drift/document", produces = "application/json")
  void document(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      HttpServletRequest request,
      HttpServletResponse response)
      throws IOException {
    Person by = by(request);
    SiteKey key = new SiteKey(stage, site);
    SiteRecord r = engine.standing().record(by, application, key);
    VisibleValues sight = VisibleValues.of(engine, by, stage, application);
    response.setContentType("application/json");
    response.setCharacterEncoding(StandardCharsets.UTF_8);
    response.setHeader(
        "Content-Disposition",
        "attachment; filename=\"" + application + "-" + stage + "-" + site + "-drift.json\"");
    Writer out = response.getWriter();
    out.write(
        "{\"kind\":\"drift\",\"format\":1,\"record\":"
            + json.writeValueAsString(standings.view(by, r))
            + ",\"items\":[");
    String[] between = {"\n"};
    engine
        .drift()
        .each(
            by,
            application,
            key,
            l -> {
              try {
                out.write(between[0] + json.writeValueAsString(line(l, r, sight)));
                between[0] = ",\n";
              } catch (IOException e) {
                throw new UncheckedIOException("The reader went away", e);
              }
            });
    out.write("]}\n");
    out.flush();
  }

  private static String part(Differing d, VisibleValues sight) {
    return sight.guards(d.component().toString())
        ? d.part().replaceFirst("^row/.*", "row/…")
        : d.part();
  }

  /**
   * What the site holds otherwise than another site, or than a version, worked out now: the first
   * of it, and how much it is in all.
   *
   * @param with stage/site, the number of a version, or a past day (YYYY-MM-DD): the version that
   *     was recorded there then
   */
  @GetMapping("/compare")
  ComparedSidesView compare(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestParam String with,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    SiteKey of = new SiteKey(stage, site);
    VisibleValues sight = sight(by(request), application, of, with);
    List<SideLineView> items = new ArrayList<>();
    Map<ComponentKey, long[]> counts = new LinkedHashMap<>();
    int most = Paging.limit(limit);
    SemVer version = with.matches(DAY) ? on(by(request), application, of, with) : null;
    sides(
        by(request),
        application,
        of,
        version == null ? with : version.text(),
        d -> {
          counts.computeIfAbsent(d.component(), key -> new long[3])[d.how().ordinal()]++;
          if (items.size() < most) {
            items.add(side(d, sight));
          }
        });
    return new ComparedSidesView(
        application,
        of.toString(),
        version == null ? with : version + ", of " + with,
        counts.values().stream().flatMapToLong(Arrays::stream).sum(),
        counts.entrySet().stream()
            .map(
                e ->
                    new GroupView(
                        e.getKey().toString(),
                        e.getValue()[0],
                        e.getValue()[1],
                        e.getValue()[2],
                        null,
                        null))
            .toList(),
        items);
  }

  /** All of the same as a CSV file. */
  @GetMapping(value = "/compare/file", produces = "text/csv")
  void compareFile(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestParam String with,
      HttpServletRequest request,
      HttpServletResponse response) {
    SiteKey of = new SiteKey(stage, site);
    VisibleValues sight = sight(by(request), application, of, with);
    CsvAnswer answer =
        new CsvAnswer(response, application + "-" + stage + "-" + site + "-compared.csv");
    boolean[] begun = {false};
    sides(
        by(request),
        application,
        of,
        with,
        d -> {
          if (!begun[0]) {
            answer.accept(RowAnswer.head());
            begun[0] = true;
          }
          RowAnswer.lines(
              d.component(), d.how().code(), part(d, sight), d.attributes(), sight, answer);
        });
    if (!begun[0]) {
      answer.accept(RowAnswer.head());
    }
    answer.finish();
  }

  private void sides(
      Person by, String application, SiteKey of, String with, Consumer<Differing> sink) {
    if (with.contains("/")) {
      engine.comparisons().sites(by, application, of, SiteKey.of(with), sink);
    } else if (with.matches(DAY)) {
      engine.comparisons().version(by, application, of, on(by, application, of, with), sink);
    } else {
      engine.comparisons().version(by, application, of, new SemVer(with), sink);
    }
  }

  private SemVer on(Person by, String application, SiteKey of, String day) {
    try {
      return engine.comparisons().on(by, application, of, LocalDate.parse(day));
    } catch (DateTimeParseException e) {
      throw Problem.invalid("DAY", "\"" + day + "\" is no day such as 2027-01-31.", "/with");
    }
  }

  /** What may be seen of both sides: values that are hidden at one of them are hidden. */
  private VisibleValues sight(Person by, String application, SiteKey of, String with) {
    VisibleValues here = VisibleValues.of(engine, by, of.stage(), application);
    VisibleValues there =
        with.contains("/")
            ? VisibleValues.of(engine, by, SiteKey.of(with).stage(), application)
            : here;
    return new VisibleValues(here.values() && there.values(), here.privateColumns());
  }

  private static SideLineView side(Differing d, VisibleValues sight) {
    boolean rows = d.component().kind() == Kind.RECORDS;
    return new SideLineView(
        Views.places(List.of(d.place()), sight).get(0),
        d.component().toString(),
        d.how().code(),
        Views.attributes(d.attributes(), name -> rows && sight.hides(d.component(), name)),
        rows && !sight.values());
  }

  /** Opens a plan that makes the site as it is recorded again. */
  @PostMapping("/put-back")
  PromotionView putBack(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody PutBackAsked asked,
      HttpServletRequest request) {
    PutBack what =
        PutBack.of(
            asked.only() == null ? Set.of() : new LinkedHashSet<>(asked.only()),
            asked.away() == null ? Set.of() : new LinkedHashSet<>(asked.away()));
    return promotions.view(
        by(request),
        engine
            .promotions()
            .putBack(
                by(request),
                application,
                new SiteKey(stage, site),
                what,
                asked.notes() == null ? "" : asked.notes()));
  }

  /** Opens a plan that gives the site its values, and moves nothing else. */
  @PostMapping("/values")
  PromotionView values(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody ValuesAsked asked,
      HttpServletRequest request) {
    return promotions.view(
        by(request),
        engine
            .promotions()
            .giveValues(
                by(request),
                application,
                new SiteKey(stage, site),
                asked.notes() == null ? "" : asked.notes()));
  }

  /** Leaves what differs as it is, with a reason and until a day. */
  @PostMapping("/drift/leave")
  RecordView leave(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody LeaveAsked asked,
      HttpServletRequest request) {
    LocalDate until;
    try {
      until = LocalDate.parse(asked.until());
    } catch (DateTimeParseException e) {
      throw Problem.invalid("DAY", "A day is written YYYY-MM-DD.", "/until");
    }
    return standings.view(
        by(request),
        engine
            .drift()
            .leave(
                by(request),
                application,
                new SiteKey(stage, site),
                asked.places(),
                asked.reason(),
                until));
  }

  /** Takes back that something is left: it is drift again. */
  @PostMapping("/drift/leave-no-more")
  RecordView leaveNoMore(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody PlacesAsked asked,
      HttpServletRequest request) {
    return standings.view(
        by(request),
        engine
            .drift()
            .leaveNoMore(by(request), application, new SiteKey(stage, site), asked.places()));
  }

  /** Begins a draft with components as the site has them. */
  @PostMapping("/drift/take")
  DraftView take(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody PlacesAsked asked,
      HttpServletRequest request) {
    Set<ComponentKey> keys = new LinkedHashSet<>();
    for (String place : asked.places()) {
      int hash = place.indexOf('#');
      try {
        keys.add(ComponentKey.of(hash < 0 ? place : place.substring(0, hash)));
      } catch (IllegalArgumentException e) {
        throw Problem.invalid("PLACES", Shown.plain(e.getMessage()) + ".", "/places");
      }
    }
    return versions.view(
        engine.drafts().takeFrom(by(request), application, new SiteKey(stage, site), keys));
  }
}
