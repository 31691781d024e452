package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Stages.Adopt;
import plenzo.api.Stages.ApplicationView;
import plenzo.api.Stages.CandidateView;
import plenzo.api.Stages.ChangeApplication;
import plenzo.api.Stages.ConditionView;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.HoldsView;
import plenzo.api.Stages.Match;
import plenzo.api.Stages.NewApplication;
import plenzo.api.Stages.PathView;
import plenzo.api.Stages.PickView;
import plenzo.api.Stages.QuestionView;
import plenzo.api.Stages.Ready;
import plenzo.api.Stages.Retire;
import plenzo.api.Stages.RetiredView;
import plenzo.api.Stages.RetiringView;
import plenzo.api.Stages.RuleView;
import plenzo.api.Stages.SaveConnection;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.VersionView;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Rules;
import plenzo.core.person.Person;
import plenzo.core.probe.Probe;
import plenzo.core.problem.Problem;
import plenzo.core.records.ConditionText;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowCondition;
import plenzo.core.records.RowsPolicy;
import plenzo.core.stage.Application;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.Applications;
import plenzo.engine.setup.Retiring;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Stages, connections, paths, applications, adoption. */
@RestController
@RequestMapping("/api/v1")
class StageController {
  private final Engine engine;
  private final VersionController versions;
  private final StandingController standings;

  StageController(Engine engine, VersionController versions, StandingController standings) {
    this.engine = engine;
    this.versions = versions;
    this.standings = standings;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping("/stages")
  List<StageView> stages(HttpServletRequest request) {
    return engine.stages().list(by(request)).stream().map(Views::stage).toList();
  }

  @PutMapping("/stages/{key}")
  StageView saveStage(
      @PathVariable String key, @RequestBody StageView asked, HttpServletRequest request) {
    if (!asked.key().equals(key)) {
      throw new IllegalArgumentException(
          "The body's key " + asked.key() + " is not the address's " + key);
    }
    IfMatch.revision(request, asked.revision());
    // what is not sent stays, also for who administers the stage and may not look at it
    Stage now = engine.tools().keeper().read(kept -> kept.stages().find(key)).orElse(null);
    return Views.stage(engine.stages().save(by(request), Views.stage(asked, now)));
  }

  /** All rules of impact checks and checks of content: what a stage can judge otherwise. */
  @GetMapping("/rules")
  List<RuleView> rules() {
    return engine.stages().rules().stream()
        .map(
            id -> {
              Finding.Severity built = Rules.all().get(id);
              return new RuleView(id, built == null ? null : built.code(), Rules.mayLower(id));
            })
        .toList();
  }

  /** Adds a site; one that is there is changed by PUT. */
  @PostMapping("/stages/{key}/sites")
  StageView newSite(
      @PathVariable String key, @RequestBody SiteView asked, HttpServletRequest request) {
    return Views.stage(engine.stages().newSite(by(request), key, Views.site(asked)));
  }

  /** Changes the targets of a site: the whole list. */
  @PutMapping("/stages/{key}/sites/{site}")
  StageView changeSite(
      @PathVariable String key,
      @PathVariable String site,
      @RequestBody SiteView asked,
      HttpServletRequest request) {
    if (!asked.key().equals(site)) {
      throw new IllegalArgumentException(
          "The body's key " + asked.key() + " is not the address's " + site);
    }
    return Views.stage(engine.stages().changeSite(by(request), key, Views.site(asked)));
  }

  @GetMapping("/connections")
  List<ConnectionView> connections(
      @RequestParam(required = false) @Nullable String stage, HttpServletRequest request) {
    return engine.connections().list(by(request), stage).stream().map(Views::connection).toList();
  }

  @PutMapping("/connections/{stage}/{name}")
  ConnectionView saveConnection(
      @PathVariable String stage,
      @PathVariable String name,
      @RequestBody SaveConnection asked,
      HttpServletRequest request) {
    IfMatch.revision(request, asked.revision());
    Connection c =
        new Connection(
            stage,
            name,
            or(asked.sort(), "postgresql"),
            or(asked.host(), ""),
            asked.port() == null ? 0 : asked.port(),
            or(asked.database(), ""),
            or(asked.path(), ""),
            or(asked.account(), ""),
            or(asked.tls(), "disable"),
            asked.options() == null ? Map.of() : asked.options(),
            asked.lentTo() == null ? lentTo(stage + "/" + name) : asked.lentTo(),
            false,
            null,
            null,
            null,
            asked.revision());
    return Views.connection(engine.connections().save(by(request), c, asked.secret()));
  }

  private List<String> lentTo(String connection) {
    return engine
        .tools()
        .keeper()
        .read(kept -> kept.connections().find(connection))
        .map(Connection::lentTo)
        .orElse(List.of());
  }

  private static String or(@Nullable String value, String other) {
    return value == null ? other : value;
  }

  /** Makes a plain directory fit for being switched: for a moment nobody finds it. */
  @PostMapping("/connections/{stage}/{name}/ready")
  Ready makeReady(
      @PathVariable String stage, @PathVariable String name, HttpServletRequest request) {
    return new Ready(engine.connections().makeReady(by(request), stage, name));
  }

  /** Tests every connection of the site. */
  @PostMapping("/sites/{stage}/{site}/check")
  List<ConnectionView> check(
      @PathVariable String stage, @PathVariable String site, HttpServletRequest request) {
    return engine.connections().testSite(by(request), new SiteKey(stage, site)).stream()
        .map(Views::connection)
        .toList();
  }

  @GetMapping("/paths")
  List<PathView> paths() {
    return engine.paths().list().stream().map(StageController::path).toList();
  }

  private static PathView path(Path p) {
    return new PathView(
        p.key(),
        p.name(),
        p.source(),
        p.legs().stream().map(LegShown::view).toList(),
        p.revision());
  }

  @PostMapping("/paths")
  PathView newPath(@RequestBody PathView asked, HttpServletRequest request) {
    return path(engine.paths().lay(by(request), path(asked, 0)));
  }

  /** Lets versions travel otherwise from now on. */
  @PutMapping("/paths/{key}")
  PathView changePath(
      @PathVariable String key, @RequestBody PathView asked, HttpServletRequest request) {
    if (!key.equals(asked.key())) {
      throw Problem.invalid("KEY", "A path keeps its key, " + key + ".", "/key");
    }
    Integer looked = IfMatch.revision(request, asked.revision());
    return path(engine.paths().change(by(request), path(asked, looked == null ? 0 : looked)));
  }

  private Path path(PathView asked, int revision) {
    String source = asked.source() == null || asked.source().isEmpty() ? null : asked.source();
    try {
      List<Leg> legs =
          asked.legs().stream().map(l -> LegShown.leg(l, usual(asked.key(), l.stage()))).toList();
      return new Path(asked.key(), asked.name(), source, legs, revision);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("LEGS", e.getMessage() + ".", "/legs");
    }
  }

  /** The leg as it is, or what such a stage is usually asked for. */
  private Leg usual(String path, String stage) {
    return engine
        .tools()
        .keeper()
        .read(
            kept ->
                kept.paths()
                    .find(path)
                    .flatMap(p -> p.leg(stage))
                    // a stage that is not there is refused where the right is known
                    .or(() -> kept.stages().find(stage).map(Leg::usual))
                    .orElse(Leg.open(stage)));
  }

  private static ApplicationView application(Application a) {
    return new ApplicationView(
        a.id(),
        a.key(),
        a.name(),
        a.owner(),
        a.description(),
        a.support(),
        a.schema(),
        a.furtherSchemas(),
        a.paths(),
        a.privateColumns(),
        a.probes().stream()
            .map(
                p ->
                    new QuestionView(
                        p.name(), p.question(), p.mustStay(), p.sort().code(), p.expected()))
            .toList(),
        a.repository() == null ? null : a.repository().address(),
        a.repository() == null ? null : a.repository().branch(),
        a.retired() == null
            ? null
            : new RetiredView(
                a.retired().by(), a.retired().at(), Shown.plain(a.retired().reason())),
        a.revision());
  }

  /** What taking an application out of use means; changes nothing. */
  @GetMapping("/applications/{key}/retire")
  RetiringView retiring(@PathVariable String key, HttpServletRequest request) {
    Retiring.Cost c = engine.retiring().cost(by(request), key);
    return new RetiringView(
        c.open(),
        c.holds().stream().map(h -> new HoldsView(h.site(), h.version())).toList(),
        c.versions());
  }

  /** Takes an application out of use for good. */
  @PostMapping("/applications/{key}/retire")
  ApplicationView retire(
      @PathVariable String key, @RequestBody Retire asked, HttpServletRequest request) {
    if (!key.equals(asked.confirm())) {
      throw new Problem(
          Problem.Reason.NEEDS_CONFIRMATION,
          "CONFIRM",
          "Taking " + key + " out of use is final.",
          List.of("Confirm with the application's key: --confirm " + key),
          "/confirm");
    }
    return application(
        engine
            .retiring()
            .retire(by(request), key, asked.reason(), IfMatch.revision(request, null)));
  }

  /**
   * By key.
   *
   * @param retired whether those that were taken out of use come too
   */
  @GetMapping("/applications")
  Page<ApplicationView> applications(
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      @RequestParam(defaultValue = "false") boolean retired,
      HttpServletRequest request) {
    return Paging.keyed(
        engine.applications().list(by(request)).stream()
            .filter(a -> retired || a.retired() == null)
            .toList(),
        Application::key,
        cursor,
        limit,
        StageController::application);
  }

  @PostMapping("/applications")
  ApplicationView newApplication(@RequestBody NewApplication asked, HttpServletRequest request) {
    return application(
        engine
            .applications()
            .register(
                by(request),
                asked.key(),
                asked.name(),
                asked.owner(),
                asked.schema(),
                asked.path()));
  }

  @PutMapping("/applications/{key}")
  ApplicationView changeApplication(
      @PathVariable String key, @RequestBody ChangeApplication asked, HttpServletRequest request) {
    return application(
        engine
            .applications()
            .change(
                by(request),
                key,
                new Applications.Facts(
                    asked.name(),
                    asked.owner(),
                    asked.description(),
                    asked.support(),
                    asked.paths(),
                    asked.privateColumns(),
                    asked.questions() == null
                        ? null
                        : asked.questions().stream()
                            .map(
                                q ->
                                    new Probe(
                                        q.name(),
                                        q.question(),
                                        q.mustStay(),
                                        q.sort() == null ? null : Probe.Sort.of(q.sort()),
                                        q.expected()))
                            .toList(),
                    asked.furtherSchemas()),
                IfMatch.revision(request, null)));
  }

  /**
   * What a site holds in the application's schema, with proposed keys; what is not carried is named
   * with a refusal.
   *
   * @param grants also what roles may do there, which is carried only where it is asked for
   */
  @GetMapping("/applications/{key}/candidates")
  List<CandidateView> candidates(
      @PathVariable String key,
      @RequestParam String site,
      @RequestParam(defaultValue = "false") boolean grants,
      HttpServletRequest request) {
    List<CandidateView> out = new ArrayList<>();
    Adoption.Held held = engine.adoption().candidates(by(request), key, SiteKey.of(site), grants);
    held.candidates().stream()
        .map(
            c ->
                new CandidateView(
                    c.component().toString(),
                    c.rows(),
                    c.size(),
                    c.key(),
                    c.keyProblem(),
                    c.keyRemark(),
                    c.refusals(),
                    c.risks()))
        .forEach(out::add);
    held.uncarried()
        .forEach(
            u ->
                out.add(
                    new CandidateView(
                        Shown.plain(u.shown()),
                        0,
                        0,
                        List.of(),
                        "",
                        "",
                        List.of(
                            u.sort().changesMeaning()
                                ? "not carried, and changes what rows of its table mean"
                                : "not carried"),
                        List.of())));
    held.passedOver()
        .forEach(
            p ->
                out.add(
                    new CandidateView(
                        Shown.plain(p.path()),
                        0,
                        0,
                        List.of(),
                        "",
                        "",
                        List.of("passed over: " + Shown.plain(p.why())),
                        List.of())));
    return out;
  }

  static Adoption.Pick pick(PickView p) {
    ComponentKey key = ComponentKey.of(p.component());
    RowCondition condition = p.where() == null ? condition(p.condition()) : where(p.where());
    if (condition != null && p.key() == null) {
      throw Problem.invalid(
          "KEY", "Name the key columns of " + key + " beside its condition.", "/picks");
    }
    RecordsDefinition records =
        p.key() == null
            ? null
            : new RecordsDefinition(TableName.of(key.name()), p.key(), condition);
    return new Adoption.Pick(
        key, records, Boolean.TRUE.equals(p.generatedKeyConfirmed()), policy(key, p.policy()));
  }

  private static @Nullable RowsPolicy policy(ComponentKey key, @Nullable String code) {
    if (code == null) {
      return null;
    }
    try {
      if (key.kind() == Kind.RECORDS) {
        return RowsPolicy.of(code);
      }
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("POLICY", e.getMessage() + ".", "/picks");
    }
    throw Problem.invalid("POLICY", "Only rows have a policy; " + key + " has none.", "/picks");
  }

  private static RowCondition where(String text) {
    try {
      return ConditionText.of(text);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("CONDITION", e.getMessage() + ".", "/picks");
    }
  }

  private static @Nullable RowCondition condition(@Nullable ConditionView c) {
    if (c == null) {
      return null;
    }
    List<RowCondition> parts =
        c.parts() == null
            ? List.of()
            : c.parts().stream().map(x -> java.util.Objects.requireNonNull(condition(x))).toList();
    return new RowCondition(c.operator(), c.column(), c.value(), parts);
  }

  /** Seals what a site holds as the application's first version and records it as present there. */
  @PostMapping("/applications/{key}/adopt")
  VersionView adopt(
      @PathVariable String key, @RequestBody Adopt asked, HttpServletRequest request) {
    return versions.view(
        by(request),
        engine
            .adoption()
            .adopt(
                by(request),
                key,
                SiteKey.of(asked.site()),
                new SemVer(asked.number()),
                asked.title(),
                asked.picks().stream().map(StageController::pick).toList())
            .head());
  }

  /** Records that a site holds a version that exists; what differs shows as drift. */
  @PostMapping("/applications/{key}/match")
  RecordView match(@PathVariable String key, @RequestBody Match asked, HttpServletRequest request) {
    SiteKey site = SiteKey.of(asked.site());
    engine.adoption().match(by(request), key, site, new SemVer(asked.number()));
    return standings.view(by(request), engine.drift().look(by(request), key, site));
  }
}
