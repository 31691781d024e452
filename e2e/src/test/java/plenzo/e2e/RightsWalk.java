package plenzo.e2e;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.awaitility.Awaitility;
import org.jspecify.annotations.Nullable;
import plenzo.demo.Tokens;
import plenzo.demo.World;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Asks every operation of the API as somebody who may nothing, gives them what they are told that
 * they lack, and so on until they are let in: what an operation asks for is found by asking it.
 * Then each of these rights is given elsewhere, at another stage or for another application, and
 * must not do.
 */
final class RightsWalk {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Pattern LACKS =
      Pattern.compile("lacks the right \"([a-z-]+)\"(?: at ([^ ]+(?: stage)?))?(?: for (.+))?\\.$");
  private static final String EVERY = "*";
  private static final int MOST_RIGHTS = 6;

  private static final String RUNS =
      "look at the stage for the application; run, or go-back for a rollback, at the stage for the application";
  private static final String HANDS =
      "look at the stage for the application; the role that the step names there, or run where it names none";

  /** What cannot be asked like this, and what it asks for. */
  static final Map<String, String> APART =
      Map.ofEntries(
          Map.entry("POST /session", "nobody; tries are counted"),
          Map.entry("POST /hooks/{application}", "nobody; the repository's signature"),
          Map.entry("POST /deputies/{number}/end", "one's own; else administer everywhere"),
          Map.entry("POST /proposals/{number}/withdraw", "signed in; one's own"),
          Map.entry("GET /schedules", "signed in; shows what one may look at"),
          Map.entry(
              "GET /feeds/{secret}/calendar.ics",
              "nobody; the address is a secret of whoever made it, and shows what they may look at"),
          Map.entry(
              "POST /repeats/{number}/end",
              "look at the stage for the application; run at the stage for the application"),
          Map.entry(
              "POST /errands/{number}/stop",
              "look at the stage for the application; prepare at the stage for the application"),
          Map.entry(
              "POST /calls/{number}/take",
              "signed in; a call at a stage that one may look at, about an application that one may look at"),
          Map.entry(
              "POST /calls/{number}/over",
              "signed in; a call at a stage that one may look at, about an application that one may look at"),
          Map.entry("POST /freezes/holds", "look at the stage"),
          Map.entry(
              "POST /freezes/{number}/lift",
              "look at the stage; administer at the stage for every application"),
          Map.entry(
              "POST /schedules/{number}/withdraw",
              "look at the stage for the application; run at the stage for the application"),
          Map.entry("DELETE /session", "signed in"),
          Map.entry("DELETE /tokens/{id}", "signed in; one's own"),
          Map.entry("GET /events", "signed in; tells of what one may look at"),
          Map.entry("POST /promotions/{number}/runs", RUNS),
          Map.entry(
              "PUT /evidence",
              "look at the stage for the application; judge or run at the stage for the application, or the role that the step names there"),
          Map.entry(
              "GET /evidence/{number}/file",
              "look at the stage for the application; see-values at the stage for the application, or it is one's own"),
          Map.entry("POST /runs/{number}/abort", RUNS),
          Map.entry("POST /runs/{number}/steps/{step}/done", HANDS),
          Map.entry("POST /runs/{number}/steps/{step}/not-done", HANDS),
          Map.entry("POST /runs/{number}/steps/{step}/take", HANDS),
          Map.entry("POST /runs/{number}/steps/{step}/leave-out", RUNS));

  /**
   * An example of each operation, in the order in which they are asked: what would change something
   * is refused for what it says, once its right is there.
   */
  private static final String EXAMPLES =
      """
      GET /applications = /applications
      POST /applications = /applications {"key":"fares","name":"Fares","owner":"o","schema":"fares","path":"ordinary"}
      PUT /applications/{key} = /applications/fares {"name":"Fares"}
      POST /applications/{key}/adopt = /applications/fares/adopt {"site":"production/north","number":"2.3.0","title":"x","picks":[]}
      GET /applications/{key}/candidates = /applications/fares/candidates?site=production/north
      GET /applications/{key}/commit = /applications/fares/commit
      GET /applications/{key}/documents = /applications/fares/documents?site=production/north
      POST /applications/{key}/hook = /applications/fares/hook
      GET /applications/{key}/inputs = /applications/fares/inputs?site=production/north
      POST /applications/{key}/look-at-source = /applications/fares/look-at-source
      POST /applications/{key}/match = /applications/fares/match {"site":"production/north","number":"9.9.9"}
      GET /applications/{key}/retire = /applications/fares/retire
      POST /applications/{key}/retire = /applications/fares/retire {"reason":"","confirm":"fares"}
      DELETE /applications/{key}/repository = /applications/fares/repository
      GET /applications/{key}/repository = /applications/fares/repository
      PUT /applications/{key}/repository = /applications/fares/repository {"address":"https://not.listed/x"}
      GET /backups = /backups
      POST /bindings = /bindings {"application":"fares","place":"production","input":"nothing","revision":0}
      POST /bindings/clear = /bindings/clear {"application":"fares","place":"production","input":"nothing"}
      GET /components = /components?application=fares&site=production/north&since=2.3.0
      GET /connections = /connections
      PUT /connections/{stage}/{name} = /connections/production/look-north {"name":"look-north","revision":99}
      POST /connections/{stage}/{name}/ready = /connections/production/none/ready
      GET /components/content = /components/content?application=fares&site=production/north&since=2.3.0&component=table/fares.band
      GET /deputies = /deputies
      POST /deputies = /deputies {"of":"bram","deputy":"ines","until":"2030-01-01T00:00:00Z","reason":""}
      GET /drafts = /drafts
      POST /drafts = /drafts {"application":"fares","from":"9.9.9"}
      GET /drafts/{id} = /drafts/<draft of fares>
      POST /drafts/{id}/add = /drafts/<draft of fares>/add {"site":"production/north","picks":[{"component":"table/fares.none"}]}
      POST /drafts/{id}/check = /drafts/<draft of fares>/check
      POST /drafts/{id}/convert = /drafts/<draft of fares>/convert {"component":"table/none","column":"a","expression":"b"}
      GET /drafts/{id}/drop = /drafts/<draft of fares>/drop?component=table/none
      POST /drafts/{id}/drop = /drafts/<draft of fares>/drop {"component":"table/none"}
      POST /drafts/{id}/move = /drafts/<draft of fares>/move {"component":"table/none","before":"table/other"}
      POST /drafts/{id}/removals = /drafts/<draft of fares>/removals {"removals":[]}
      POST /drafts/{id}/take-up = /drafts/<draft of fares>/take-up {"version":"9.9.9"}
      POST /drafts/{id}/try = /drafts/<draft of fares>/try {"site":"test/main"}
      POST /drafts/{id}/renamed = /drafts/<draft of fares>/renamed {"component":"table/none","was":"a","is":"b"}
      POST /drafts/{id}/two-columns = /drafts/<draft of fares>/two-columns {"component":"table/none","was":"a","is":"b"}
      POST /drafts/{id}/seal = /drafts/<draft of fares>/seal {"number":"9.9.9","title":""}
      DELETE /drafts/{id} = /drafts/<draft of fares>
      GET /evidence = /evidence
      GET /evidence/{number} = /evidence/<evidence>
      GET /calendar = /calendar?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /freezes = /freezes
      GET /promotions/{number}/record = /promotions/<case>/record
      GET /promotions/{number}/record/{form} = /promotions/<case>/record/pdf
      GET /promotions/{number}/findings/sarif = /promotions/<case>/findings/sarif
      GET /promotions/{number}/carry-over = /promotions/<case>/carry-over
      GET /promotions/{number}/carry-over/csv = /promotions/<case>/carry-over/csv
      GET /promotions/{number}/comparison/csv = /promotions/<case>/comparison/csv
      GET /exceptions = /exceptions?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /exceptions/{form} = /exceptions/pdf?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /records/{application}/{stage}/{site}/between = /records/fares/production/north/between?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /records/{application}/{stage}/{site}/between/{form} = /records/fares/production/north/between/pdf?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /retention = /retention
      PUT /retention = /retention {"days":{"none":1}}
      GET /retention/preview = /retention/preview?days=none%3D1
      POST /retention/clear = /retention/clear {"expect":"none"}
      GET /retention/notes = /retention/notes
      PUT /retention/notes = /retention/notes {"subject":"R-999","reason":"none"}
      DELETE /retention/notes = /retention/notes?subject=R-999
      GET /applications/{key}/copies = /applications/fares/copies
      PUT /applications/{key}/copies = /applications/fares/copies {"every":999}
      POST /applications/{key}/copies = /applications/fares/copies
      GET /applications/{key}/copies/{id}/file = /applications/fares/copies/C-999/file
      GET /people/{login}/blanking = /people/bram/blanking
      POST /people/{login}/blank = /people/bram/blank
      GET /history/saved = /history/saved?from=2030-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /figures = /figures?from=2027-01-01T00:00:00Z&until=2027-01-08T00:00:00Z
      GET /notices = /notices
      GET /notices/fresh = /notices/fresh
      POST /notices/seen = /notices/seen {"entry":0}
      GET /notices/following = /notices/following
      PUT /notices/following = /notices/following {"mail":"","stages":["none"],"applications":[],"news":[],"zone":"UTC"}
      POST /notices/try = /notices/try
      GET /calls = /calls
      GET /stages/{key}/calls = /stages/production/calls
      PUT /stages/{key}/calls = /stages/production/calls {"callees":[],"revision":99}
      GET /runs/{number}/night = /runs/<run>/night
      GET /repeats = /repeats
      POST /repeats = /repeats {"application":"fares","stage":"production","rule":"NEVER"}
      GET /errands = /errands
      POST /calendar/feeds = /calendar/feeds {"label":""}
      POST /freezes = /freezes {"stage":"production","from":"2030-01-01T00:00:00Z","until":"2020-01-02T00:00:00Z","reason":"x"}
      GET /webhooks = /webhooks
      POST /webhooks = /webhooks {"name":"Not A Name","address":"https://chat.example/in"}
      PUT /webhooks/{name} = /webhooks/none {"name":"none","address":"https://chat.example/in","revision":99}
      DELETE /webhooks/{name} = /webhooks/none
      GET /deliveries = /deliveries
      POST /deliveries/{number}/replay = /deliveries/DV-999/replay
      POST /promotions/{number}/schedule = /promotions/<case>/schedule {"fingerprint":"x"}
      GET /history = /history
      GET /history/head = /history/head
      GET /history/verify = /history/verify
      GET /history/verify/progress = /history/verify/progress
      POST /history/verify = /history/verify {"head":""}
      GET /keys = /keys
      POST /keys = /keys {"name":""}
      POST /keys/revoke = /keys/revoke {"id":"none","reason":"x"}
      POST /keys/trust = /keys/trust {"name":"x","key":"none"}
      GET /packages = /packages
      POST /packages = /packages {"application":"fares","number":"9.9.9"}
      PUT /packages/received = /packages/received?name=x.zip x
      POST /packages/{id}/bring-in = /packages/<package>/bring-in {}
      GET /packages/{id}/contents = /packages/<package>/contents
      GET /packages/{id}/file = /packages/<package>/file
      POST /packages/{id}/drop = /packages/<package>/drop
      GET /paths = /paths
      POST /paths = /paths {"key":"ordinary","name":"x","source":"development","legs":[{"stage":"test"}]}
      PUT /paths/{key} = /paths/ordinary {"key":"ordinary","name":"x","source":"development","legs":[{"stage":"nowhere"}]}
      GET /people = /people
      POST /people = /people {"login":"X","name":"x","password":"x"}
      GET /people/{login} = /people/bram
      PUT /people/{login} = /people/bram {"name":"Bram Okafor"}
      GET /proposals = /proposals
      GET /proposals/{number} = /proposals/<change>
      POST /proposals/{number}/agree = /proposals/<change>/agree {"note":"<long>"}
      POST /proposals/{number}/decline = /proposals/<change>/decline {"note":""}
      PUT /people/{login}/grants = /people/bram/grants {"grants":[],"revision":999}
      GET /people/{login}/keys = /people/bram/keys
      DELETE /people/{login}/keys/{id} = /people/bram/keys/none
      POST /people/{login}/password = /people/bram/password {"password":"short"}
      GET /promotions = /promotions
      POST /promotions = /promotions {"application":"fares","version":"9.9.9","site":"production/north"}
      GET /promotions/{number} = /promotions/<case>
      POST /promotions/{number}/accept-risk = /promotions/<case>/accept-risk {"finding":"none","reason":"x","until":"2026-01-01"}
      POST /promotions/{number}/activate = /promotions/<case>/activate {"components":["rule/none"]}
      POST /promotions/{number}/answer = /promotions/<case>/answer {"question":9,"text":"x"}
      POST /promotions/{number}/emergency = /promotions/<case>/emergency {"reason":""}
      POST /promotions/{number}/ask = /promotions/<case>/ask {"text":""}
      POST /promotions/{number}/approve = /promotions/<case>/approve {"fingerprint":"none"}
      POST /promotions/{number}/compare = /promotions/<case>/compare
      GET /promotions/{number}/comparison = /promotions/<case>/comparison
      POST /promotions/{number}/decide = /promotions/<case>/decide {"decisions":{"none":"keep"}}
      POST /promotions/{number}/manual = /promotions/<case>/manual {"steps":[]}
      POST /promotions/{number}/notes = /promotions/<case>/notes {"notes":"none"}
      POST /promotions/{number}/reject = /promotions/<case>/reject {"fingerprint":"none"}
      POST /promotions/{number}/ask-outside = /promotions/<case>/ask-outside
      POST /promotions/{number}/rehearse = /promotions/<case>/rehearse
      GET /promotions/{number}/rows = /promotions/<case>/rows?component=0&difference=changed
      POST /promotions/{number}/take-back = /promotions/<case>/take-back {"reason":""}
      GET /records/{application}/{stage}/{site} = /records/fares/production/north
      POST /records/{application}/{stage}/{site}/close-failure = /records/fares/production/north/close-failure {"reason":""}
      GET /records/{application}/{stage}/{site}/compare = /records/fares/production/north/compare?with=2.4.0
      GET /records/{application}/{stage}/{site}/compare/file = /records/fares/production/north/compare/file?with=2.4.0
      GET /records/{application}/{stage}/{site}/drift = /records/fares/production/north/drift
      GET /records/{application}/{stage}/{site}/drift/document = /records/fares/production/north/drift/document
      GET /records/{application}/{stage}/{site}/drift/file = /records/fares/production/north/drift/file
      POST /records/{application}/{stage}/{site}/drift/leave = /records/fares/production/north/drift/leave {"places":[],"reason":"","until":"2026-01-01"}
      POST /records/{application}/{stage}/{site}/drift/leave-no-more = /records/fares/production/north/drift/leave-no-more {"places":[]}
      POST /records/{application}/{stage}/{site}/drift/take = /records/fares/production/north/drift/take {"places":[]}
      GET /records/{application}/{stage}/{site}/left-over = /records/fares/production/north/left-over
      POST /records/{application}/{stage}/{site}/left-over/clear = /records/fares/production/north/left-over/clear {"names":["none"]}
      POST /records/{application}/{stage}/{site}/put-back = /records/fares/production/north/put-back {"only":["table/none.none"]}
      POST /records/{application}/{stage}/{site}/values = /records/fares/production/north/values {"notes":""}
      POST /records/{application}/{stage}/{site}/look = /records/fares/production/north/look
      GET /rehearsals = /rehearsals
      GET /rehearsals/{number} = /rehearsals/<rehearsal>
      POST /rehearsals/{number}/stop = /rehearsals/<rehearsal>/stop
      GET /releases = /releases
      GET /releases/{key} = /releases/<release>
      GET /releases/{key}/record = /releases/<release>/record
      GET /releases/{key}/record/{form} = /releases/<release>/record/pdf
      PUT /releases/{key} = /releases/<release> {"title":"","members":["fares@2.6.0"]}
      POST /releases/{key}/prepare = /releases/<release>/prepare {"site":"production/north"}
      POST /releases/{key}/approve = /releases/<release>/approve {"site":"production/north","fingerprint":"none"}
      POST /releases/{key}/reject = /releases/<release>/reject {"site":"production/north","fingerprint":"none"}
      POST /releases/{key}/start = /releases/<release>/start {"site":"production/north","fingerprint":"none"}
      POST /releases/{key}/withdraw = /releases/<release>/withdraw {"site":"production/north","reason":""}
      GET /rights = /rights
      GET /roles = /roles
      DELETE /roles/{key} = /roles/none
      PUT /roles/{key} = /roles/none {"name":"","rights":[]}
      POST /rollback = /rollback {"application":"fares","site":"production/north","way":"earlier-version","expect":"none","reason":"x"}
      POST /rollback/bring-in = /rollback/bring-in {"application":"fares","site":"production/north","lines":""}
      GET /rollback/lost = /rollback/lost?application=fares&site=production/north&way=earlier-version
      GET /rollback/sites = /rollback/sites?application=fares&stage=production
      POST /rollback/sites = /rollback/sites {"application":"fares","stage":"production","way":"earlier-version","expect":"none","reason":"x"}
      GET /rollback/ways = /rollback/ways?application=fares&site=production/north
      GET /runs = /runs
      GET /runs/{number} = /runs/<run>
      GET /runs/{number}/sheet = /runs/<run>/sheet
      GET /runs/{number}/log = /runs/<run>/log
      POST /runs/{number}/let-in = /runs/<run>/let-in {"reason":""}
      POST /runs/{number}/pause = /runs/<run>/pause {"reason":""}
      POST /runs/{number}/resume = /runs/<run>/resume
      POST /runs/{number}/take-over = /runs/<run>/take-over {"reason":""}
      POST /runs/{number}/end = /runs/<run>/end {"reason":""}
      POST /server/catch-up = /server/catch-up
      GET /server/newer = /server/newer
      GET /session = /session
      GET /session/may = /session/may?right=look
      PUT /session/password = /session/password {"old":"wrong","password":"x"}
      POST /sites/{stage}/{site}/activation = /sites/production/north/activation {"application":"fares","component":"rule/none","on":true,"reason":"x"}
      POST /sites/{stage}/{site}/check = /sites/production/north/check
      POST /sites/{stage}/{site}/maintenance = /sites/production/north/maintenance {"on":false,"reason":"x"}
      GET /sites/{stage}/{site}/needs = /sites/production/north/needs?application=fares
      GET /sites/{stage}/{site}/work = /sites/production/north/work
      GET /rules = /rules
      GET /stages = /stages
      PUT /stages/{key} = /stages/production {"key":"production","name":"P","role":"production","position":2,"driftCloses":false,"zone":"Europe/Oslo","sites":[],"revision":99}
      POST /stages/{key}/sites = /stages/production/sites {"key":"north","targets":[]}
      PUT /stages/{key}/sites/{site} = /stages/production/sites/none {"key":"none","targets":[]}
      GET /standing = /standing
      GET /standing/past = /standing/past?at=2026-01-01T00:00:00Z
      GET /tokens = /tokens
      POST /tokens = /tokens {"label":""}
      GET /versions = /versions?application=fares
      GET /versions/{application}/{from}/compare/{to} = /versions/fares/2.4.0/compare/2.4.1
      GET /versions/{application}/{from}/compare/{to}/rows = /versions/fares/2.4.0/compare/2.4.1/rows?component=records/fares.surcharge
      GET /versions/{application}/{number} = /versions/fares/2.4.0
      GET /versions/{application}/{number}/components = /versions/fares/2.4.0/components
      GET /versions/{application}/{number}/fate = /versions/fares/2.4.0/fate
      POST /versions/{application}/{number}/verdict = /versions/fares/2.4.0/verdict {"site":"production/north","good":true,"reason":""}
      POST /versions/{application}/{number}/withdraw = /versions/fares/9.9.9/withdraw {"reason":"x"}
      GET /waiting = /waiting
      GET /waves = /waves
      POST /waves = /waves {"application":"fares","version":"2.6.0","stage":"production","waves":[["production/north"]]}
      GET /waves/{number} = /waves/<waves>
      POST /waves/{number}/approve = /waves/<waves>/approve {"fingerprint":"none"}
      POST /waves/{number}/reject = /waves/<waves>/reject {"fingerprint":"none"}
      POST /waves/{number}/start = /waves/<waves>/start {"fingerprint":"none"}
      POST /waves/{number}/go-on = /waves/<waves>/go-on
      POST /waves/{number}/leave = /waves/<waves>/leave {"site":"production/north","reason":""}
      POST /waves/{number}/withdraw = /waves/<waves>/withdraw {"reason":""}
      GET /underway = /underway
      POST /promotions/{number}/withdraw = /promotions/<case>/withdraw {"reason":""}
      """;

  private final HttpClient http = HttpClient.newHttpClient();
  private final String address;
  private final String admin;
  private final String ines;
  private final String probe;
  private final Map<String, String> names = new LinkedHashMap<>();
  private final String keys = "rights-" + UUID.randomUUID() + "-";
  private int calls;

  /** A right that was asked for, and where; null where any place does. */
  private record Asked(String right, @Nullable String stage, @Nullable String application) {
    /** Whether whoever has the other has this: there rather than anywhere. */
    boolean follows(Asked other) {
      return !equals(other)
          && right.equals(other.right)
          && (stage == null || stage.equals(other.stage))
          && (application == null || application.equals(other.application));
    }

    String words() {
      return right
          + place(" at ", stage, "stage", List.of("production", "test"))
          + place(" for ", application, "application", List.of("fares"));
    }

    private static String place(
        String before, @Nullable String what, String sort, List<String> inTheExample) {
      if (what == null) {
        return "";
      }
      String which =
          what.equals(EVERY) ? "every " : inTheExample.contains(what) ? "the " : what + ", a ";
      return before + which + sort;
    }
  }

  /**
   * @param address of a service with the sample world, its story told
   * @param adminPassword of its first administrator
   */
  RightsWalk(String address, String adminPassword) {
    this.address = address;
    this.admin = Tokens.make(address, "admin", adminPassword);
    this.ines = Tokens.make(address, "ines", World.PASSWORD);
    send(
        admin,
        "POST",
        "/people",
        "{\"login\":\"probe\",\"name\":\"Probe\",\"password\":\"long enough 1\",\"mustChangePassword\":false}");
    this.probe = Tokens.make(address, "probe", "long enough 1");
    names.put(
        "case",
        ok(
                ines,
                "POST",
                "/promotions",
                "{\"application\":\"fares\",\"version\":\"2.6.0\",\"site\":\"production/south\"}")
            .get("number")
            .asString());
    names.put(
        "rehearsal",
        ok(ines, "POST", "/promotions/" + names.get("case") + "/rehearse", null)
            .get("number")
            .asString());
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .until(() -> ok(ines, "GET", "/rehearsals/" + names.get("rehearsal"), null).has("ended"));
    give(List.<String[]>of(new String[] {"administer", EVERY, EVERY}));
    names.put(
        "change",
        change(
            send(
                admin,
                "PUT",
                "/paths/ordinary",
                "{\"key\":\"ordinary\",\"name\":\"Ordinary\",\"source\":\"development\","
                    + "\"legs\":[{\"stage\":\"test\"},{\"stage\":\"production\",\"soakDays\":3}]}")));
    names.put("long", "x".repeat(2001));
    names.put("run", found(ines, "/runs?application=fares&stage=production", "number"));
    names.put(
        "draft",
        ok(ines, "POST", "/drafts", "{\"application\":\"sailings\"}").get("id").asString());
    names.put(
        "draft of fares",
        ok(ines, "POST", "/drafts", "{\"application\":\"fares\",\"from\":\"2.6.0\"}")
            .get("id")
            .asString());
    String release = "spring-" + keys.substring(7, 15);
    ok(ines, "PUT", "/releases/" + release, "{\"title\":\"Spring\",\"members\":[\"fares@2.6.0\"]}");
    names.put("release", release);
    names.put(
        "evidence",
        ok(ines, "PUT", "/evidence?run=" + names.get("run") + "&name=x.txt", "shows it")
            .get("number")
            .asString());
    names.put(
        "waves",
        ok(
                ines,
                "POST",
                "/waves",
                "{\"application\":\"fares\",\"version\":\"2.6.0\",\"stage\":\"production\"}")
            .get("number")
            .asString());
    names.put(
        "package",
        ok(ines, "POST", "/packages", "{\"application\":\"fares\",\"number\":\"2.6.0\"}")
            .get("id")
            .asString());
  }

  private String found(String token, String list, String field) {
    return ok(token, "GET", list, null).get("items").get(0).get(field).asString();
  }

  private JsonNode ok(String token, String method, String path, @Nullable String body) {
    HttpResponse<String> answer = send(token, method, path, body);
    if (answer.statusCode() >= 300) {
      throw new IllegalStateException(method + " " + path + ": " + answer.body());
    }
    return JSON.readTree(answer.body());
  }

  private HttpResponse<String> send(
      String token, String method, String path, @Nullable String body) {
    boolean ofCase =
        names.containsKey("case") && path.startsWith("/promotions/" + names.get("case"));
    if (ofCase && !method.equals("GET")) {
      compared();
    }
    try {
      return http.send(
          HttpRequest.newBuilder(URI.create(address + "/api/v1" + path))
              .header("Authorization", "Bearer " + token)
              .header(
                  "Content-Type",
                  path.startsWith("/packages/received")
                      ? "application/zip"
                      : path.startsWith("/evidence?") && method.equals("PUT")
                          ? "application/octet-stream"
                          : "application/json")
              .header("Idempotency-Key", keys + calls++)
              .method(
                  method,
                  body == null
                      ? HttpRequest.BodyPublishers.noBody()
                      : HttpRequest.BodyPublishers.ofString(body))
              .build(),
          HttpResponse.BodyHandlers.ofString());
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * What an operation before began in the background is over: a case that is being compared says so
   * before it says which right is missing.
   */
  private void compared() {
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .pollDelay(Duration.ZERO)
        .pollInterval(Duration.ofMillis(20))
        .until(
            () ->
                !ok(ines, "GET", "/promotions/" + names.get("case"), null)
                    .get("state")
                    .asString()
                    .equals("preparing"));
  }

  /** The lines of docs/rights.md. */
  static Map<String, String> written() throws IOException {
    Map<String, String> out = new LinkedHashMap<>();
    Pattern line = Pattern.compile("\\| `([A-Z]+ /[^`]*)` \\| (.*) \\|");
    for (String l : Files.readAllLines(Path.of("../docs/rights.md"))) {
      Matcher m = line.matcher(l);
      if (m.matches()) {
        out.put(m.group(1), m.group(2));
      }
    }
    return out;
  }

  /** Every operation of the service's own document. */
  Set<String> operations() {
    Set<String> out = new TreeSet<>();
    JsonNode paths = JSON.readTree(get("/api/openapi")).get("paths");
    paths
        .propertyStream()
        .forEach(
            p ->
                p.getValue()
                    .propertyNames()
                    .forEach(
                        m ->
                            out.add(
                                m.toUpperCase(java.util.Locale.ROOT)
                                    + " "
                                    + p.getKey().replace("/api/v1", ""))));
    return out;
  }

  private String get(String path) {
    try {
      return http.send(
              HttpRequest.newBuilder(URI.create(address + path)).build(),
              HttpResponse.BodyHandlers.ofString())
          .body();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * What each operation asks for, in words; what did although the right was elsewhere is said there
   * too.
   */
  Map<String, String> walk() {
    Map<String, String> out = new LinkedHashMap<>();
    EXAMPLES
        .lines()
        .map(line -> line.split(" = ", 2))
        .filter(e -> e.length == 2)
        .forEach(e -> out.put(e[0], asks(e[0], e[1])));
    out.putAll(APART);
    return out;
  }

  private String asks(String operation, String example) {
    String method = operation.substring(0, operation.indexOf(' '));
    String filled = example;
    for (Map.Entry<String, String> n : names.entrySet()) {
      filled = filled.replace("<" + n.getKey() + ">", n.getValue());
    }
    int space = filled.indexOf(' ');
    String path = space < 0 ? filled : filled.substring(0, space);
    String body = space < 0 ? null : filled.substring(space + 1);

    Set<Asked> needs = new LinkedHashSet<>();
    give(List.of());
    HttpResponse<String> first = send(probe, method, path, body);
    HttpResponse<String> answer = first;
    // what one may not look at is not there
    for (Asked look :
        List.of(new Asked("look", null, "fares"), new Asked("look", "production", "fares"))) {
      if (answer.statusCode() == 404) {
        needs.clear();
        needs.add(look);
        give(needs.stream().map(RightsWalk::grant).toList());
        answer = send(probe, method, path, body);
      }
    }
    if (answer.statusCode() == 404) {
      return "there is nothing like the example";
    }
    while (needs.size() < MOST_RIGHTS) {
      Asked lacks = lacks(answer);
      if (lacks == null) {
        break;
      }
      if (!answer.body().contains("plenzo role grant probe " + lacks.right())) {
        return "refused without the line that grants it: " + answer.body();
      }
      if (!needs.add(lacks)) {
        return "asks again for " + lacks.words();
      }
      give(needs.stream().map(RightsWalk::grant).toList());
      answer = send(probe, method, path, body);
    }
    if (needs.isEmpty()) {
      if (answer.statusCode() == 403) {
        return "refused: " + answer.body();
      }
      return method.equals("GET") ? seen(path, first) : "signed in";
    }
    needs.removeIf(n -> needs.stream().anyMatch(n::follows));
    dropNeedlessLook(needs, method, path, body);
    String elsewhere = elsewhere(needs, method, path, body);
    if (!elsewhere.isEmpty()) {
      return elsewhere;
    }
    return String.join("; ", needs.stream().map(Asked::words).toList());
  }

  /** What shows a thing may be another right than to look at it. */
  private void dropNeedlessLook(
      Set<Asked> needs, String method, String path, @Nullable String body) {
    Set<Asked> others = new LinkedHashSet<>(needs);
    if (!others.removeIf(n -> n.right().equals("look")) || others.isEmpty()) {
      return;
    }
    give(others.stream().map(RightsWalk::grant).toList());
    int status = send(probe, method, path, body).statusCode();
    if (status != 403 && status != 404) {
      needs.retainAll(others);
    }
  }

  /** Whether more is seen by somebody who may look everywhere. */
  private String seen(String path, HttpResponse<String> byNobody) {
    give(List.<String[]>of(new String[] {"look", EVERY, EVERY}));
    HttpResponse<String> byLooker = send(probe, "GET", path, null);
    return byLooker.body().equals(byNobody.body())
        ? "signed in"
        : "signed in; shows what one may look at";
  }

  /** Each right given where it does not belong. */
  private String elsewhere(Set<Asked> needs, String method, String path, @Nullable String body) {
    for (Asked moved : needs) {
      for (String[] wrong : wrong(moved)) {
        List<String[]> grants = new ArrayList<>();
        needs.forEach(n -> grants.add(n.equals(moved) ? wrong : grant(n)));
        give(grants);
        int status = send(probe, method, path, body).statusCode();
        if (status != 403 && status != 404) {
          return moved.words() + " DID ALSO WITH " + String.join(" ", wrong);
        }
      }
    }
    return "";
  }

  private static List<String[]> wrong(Asked a) {
    List<String[]> out = new ArrayList<>();
    String stage = a.stage() == null ? EVERY : a.stage();
    String application = a.application() == null ? EVERY : a.application();
    if (a.stage() != null) {
      out.add(new String[] {a.right(), "development", application});
    }
    if (a.application() != null) {
      out.add(new String[] {a.right(), stage, "sailings"});
    }
    for (String other : List.of("look", "administer")) {
      if (!a.right().equals(other)) {
        out.add(new String[] {other, EVERY, EVERY});
      }
    }
    return out;
  }

  private static String[] grant(Asked a) {
    return new String[] {
      a.right(),
      a.stage() == null ? "development" : a.stage(),
      a.application() == null ? "fares" : a.application()
    };
  }

  private void give(List<String[]> grants) {
    List<Map<String, String>> all =
        grants.stream()
            .map(g -> Map.of("right", g[0], "stage", g[1], "application", g[2]))
            .toList();
    HttpResponse<String> answer =
        send(
            admin,
            "PUT",
            "/people/probe/grants",
            JSON.writeValueAsString(Map.of("grants", all, "roles", List.of())));
    if (answer.statusCode() == 409) {
      // while they administer, they are the second person for what changes at production
      ok(probe, "POST", "/proposals/" + change(answer) + "/agree", "{}");
    }
  }

  private static String change(HttpResponse<String> waits) {
    Matcher number = Pattern.compile("CH-[0-9]+").matcher(waits.body());
    if (!number.find()) {
      throw new IllegalStateException(waits.body());
    }
    return number.group();
  }

  private static @Nullable Asked lacks(HttpResponse<String> answer) {
    if (answer.statusCode() != 403) {
      return null;
    }
    Matcher m = LACKS.matcher(JSON.readTree(answer.body()).get("detail").asString());
    return m.find() ? new Asked(m.group(1), place(m.group(2)), place(m.group(3))) : null;
  }

  private static @Nullable String place(@Nullable String shown) {
    return shown == null ? null : shown.startsWith("every ") ? EVERY : shown;
  }
}
