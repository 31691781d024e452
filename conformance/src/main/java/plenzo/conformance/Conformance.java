package plenzo.conformance;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.conformance.Caller.Failed;
import plenzo.conformance.Caller.Lost;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Change;
import plenzo.hostprotocol.HostProtocol.Component;
import plenzo.hostprotocol.HostProtocol.Input;
import plenzo.hostprotocol.HostProtocol.Outcome;
import plenzo.hostprotocol.HostProtocol.Prepare;
import plenzo.hostprotocol.HostProtocol.Switch;
import tools.jackson.databind.json.JsonMapper;

/**
 * Every rule of the host protocol, tried on a host. Works below a name space of its own and takes
 * away what it made; the host's other definitions are not touched.
 */
public final class Conformance {
  private static final JsonMapper JSON = new JsonMapper();

  private static final String INPUT = "conformance-input";

  private final HostUnderTest host;
  private final String space;
  private long run;

  /** Whether the host may have a value that it was given by a rule. */
  private boolean gave;

  /**
   * @param space name space for the definitions that are made, such as "conformance"
   * @param firstRun number of the first run; it and the hundred after it must be unused
   */
  public Conformance(HostUnderTest host, String space, long firstRun) {
    this.host = host;
    this.space = space;
    this.run = firstRun;
  }

  /**
   * How one rule ended.
   *
   * @param problem empty when it holds; "not tried: …" when it could not be
   */
  public record Result(String rule, String problem) {
    public boolean holds() {
      return problem.isEmpty();
    }

    public boolean tried() {
      return !problem.startsWith("not tried");
    }
  }

  private interface Rule {
    void check(Caller caller, Wire wire) throws IOException;
  }

  private final Map<String, Rule> rules = new LinkedHashMap<>();

  {
    rules.put("serves nobody without the right token or certificate", this::stranger);
    rules.put("says who it is, the same each time", this::identity);
    rules.put("keeps what is prepared out of sight", this::outOfSight);
    rules.put("applies a switch in full: new, changed and gone", this::applies);
    rules.put("lets what is new arrive off, and on when the plan says so", this::activation);
    rules.put("does a repeated switch once", this::repeats);
    rules.put("refuses a switch when the present moved, and changes nothing", this::moved);
    rules.put("never applies a run that was made void", this::voids);
    rules.put("never applies a switch that arrives after the run was made void", this::late);
    rules.put("says applied when a run is made void after its switch", this::voidAfter);
    rules.put("switches back, once", this::undoes);
    rules.put("does not switch back what somebody changed since", this::touched);
    rules.put("forgets what is discarded", this::discards);
    rules.put("prepares one run at a time", this::busy);
    rules.put("keeps the values of inputs from the switch on", this::inputs);
    rules.put("takes the value of an input away, and gives it back", this::inputGone);
    rules.put("lists what is prepared, if it lists it at all", this::lists);
    rules.put("shows maintenance", this::maintenance);
    rules.put("tells people before, if it tells them at all", this::announces);
    rules.put("refreshes as often as it is asked, if it says that it refreshes", this::refreshes);
    rules.put(
        "tries definitions in places of their own, if it says that it makes them", this::apart);
    rules.put("switches one definition on and off without a new revision", this::onAndOff);
    rules.put("is unchanged when the request got lost", this::lostRequest);
    rules.put("has applied when only the answer got lost", this::lostAnswer);
    rules.put("tells the truth after being killed between write and answer", this::killed);
    rules.put("remembers its runs after a restart", this::remembers);
    rules.put("lists only what begins with the scope and a dot", this::scope);
    rules.put("uses no revision a second time, after switching back neither", this::revisions);
    rules.put("keeps what was applied when it is discarded", this::discardAfter);
    rules.put("says 404 of what is not there", this::notThere);
    rules.put("refuses a question that is none, and changes nothing by one", this::questions);
    rules.put("shows no value of an input anywhere", this::values);
    rules.put("gives texts back character by character", this::exactly);
    rules.put("takes no marker of another Plenzo", this::marker);
  }

  /** Tries every rule; one that fails does not keep the others from being tried. */
  public List<Result> run() throws IOException {
    List<Result> out = new ArrayList<>();
    for (Map.Entry<String, Rule> rule : rules.entrySet()) {
      try (Wire wire = new Wire(host)) {
        Caller caller = new Caller("127.0.0.1", wire.port(), host.prefix(), host.token());
        String problem = "";
        long first = run;
        try {
          rule.getValue().check(caller, wire);
        } catch (Failed e) {
          problem = String.valueOf(e.getMessage());
        } catch (Lost e) {
          problem = "did not answer " + e.getMessage();
        } catch (RuntimeException e) {
          problem = "answered with something that is not of the protocol: " + e;
        }
        out.add(new Result(rule.getKey(), problem));
        tidy(caller, first);
      }
    }
    out.add(new Result("is left as it was found", left()));
    return out;
  }

  /** What the rules made and could not take away, because one of them failed. */
  private String left() throws IOException {
    try (Wire wire = new Wire(host)) {
      List<Component> left =
          inventory(new Caller("127.0.0.1", wire.port(), host.prefix(), host.token()));
      return left.isEmpty()
          ? ""
          : "remove by hand: "
              + String.join(", ", left.stream().map(c -> c.kind() + "/" + c.name()).toList());
    } catch (Failed | Lost e) {
      return "not tried: the host does not list what it has";
    }
  }

  private void tidy(Caller caller, long first) {
    try {
      caller.send("PUT", "/maintenance", new HostProtocol.Maintenance(false, 0, ""));
      for (long number = first; number < run; number++) {
        caller.run("DELETE", number, "prepared", null);
      }
      List<Component> left = inventory(caller);
      if (!left.isEmpty() || gave) {
        long number = run++;
        caller.run(
            "PUT",
            number,
            "prepared",
            new Prepare(
                left.stream()
                    .map(c -> new Change(c.kind(), c.name(), c.revision(), null, false))
                    .toList(),
                List.of(new Input(INPUT, null, false))));
        caller.run("POST", number, "switch", now());
        gave = false;
      }
    } catch (Failed | Lost e) {
      // the next rule will say what is wrong
    }
  }

  private static Switch now() {
    return new Switch("1.0.0", "conformance", "conformance", null);
  }

  private static void require(boolean holds, String otherwise) {
    if (!holds) {
      throw new Failed(otherwise);
    }
  }

  private String name(String last) {
    return space + "." + last;
  }

  private String document(String last, String text) {
    return "{\"definition\":{\"text\":\""
        + text
        + "\"},\"format\":1,\"inputs\":[],\"kind\":\"rule\",\"name\":\""
        + name(last)
        + "\",\"references\":[],\"title\":\"\"}";
  }

  private Change change(String last, @Nullable String present, @Nullable String text) {
    return new Change(
        "rule", name(last), present, text == null ? null : document(last, text), false);
  }

  private List<Component> inventory(Caller caller) {
    return caller.get("/inventory?scope=" + space, HostProtocol.Inventory.class).components();
  }

  private @Nullable Component find(Caller caller, String last) {
    return inventory(caller).stream()
        .filter(c -> c.kind().equals("rule") && c.name().equals(name(last)))
        .findFirst()
        .orElse(null);
  }

  private Component there(Caller caller, String last) {
    Component c = find(caller, last);
    if (c == null) {
      throw new Failed("does not list rule/" + name(last) + " after it was written");
    }
    return c;
  }

  private void holds(Caller caller, String last, String text) {
    HostProtocol.Document d =
        caller.get("/components/rule/" + name(last), HostProtocol.Document.class);
    require(
        JSON.readTree(d.text()).equals(JSON.readTree(document(last, text))),
        "gives rule/" + name(last) + " back otherwise than it was written: " + d.text());
    require(
        d.revision().equals(there(caller, last).revision()),
        "gives another revision with the document than in the inventory");
  }

  private long prepared(Caller caller, Change... changes) {
    long number = run++;
    Outcome o = caller.run("PUT", number, "prepared", new Prepare(List.of(changes), List.of()));
    require(o.outcome().equals("prepared"), "answered prepare with " + o);
    return number;
  }

  private long applied(Caller caller, Change... changes) {
    long number = prepared(caller, changes);
    Outcome o = caller.run("POST", number, "switch", now());
    require(o.outcome().equals("applied"), "answered switch with " + o);
    return number;
  }

  private static void refused(Outcome o, String why, String what) {
    require(
        o.outcome().equals("refused") && why.equals(o.why()),
        "answered " + what + " with " + o + " instead of refused, " + why);
  }

  private void stranger(Caller caller, Wire wire) {
    HostProtocol.Maintenance closed = new HostProtocol.Maintenance(true, 0, "");
    if (host.token().isEmpty()) {
      wire.next("/identity", Wire.Does.STRANGER);
      unserved(caller, "GET", "/identity", null);
      wire.next("/maintenance", Wire.Does.STRANGER);
      unserved(caller, "PUT", "/maintenance", closed);
      return;
    }
    int wrong = caller.with("wrong").send("GET", "/identity", null).status();
    require(wrong == 401, "answered " + wrong + " to a wrong token");
    int write = caller.with("wrong").send("PUT", "/maintenance", closed).status();
    require(write == 401, "answered " + write + " to a change with a wrong token");
  }

  /** Refused by TLS, or with 401 or 403. */
  private static void unserved(Caller caller, String method, String path, @Nullable Object body) {
    try {
      int status = caller.send(method, path, body).status();
      require(
          status == 401 || status == 403,
          "answered " + status + " to " + method + " " + path + " without a certificate");
    } catch (Lost e) {
      // refused before there was an answer
    }
  }

  private void identity(Caller caller, Wire wire) {
    HostProtocol.Identity a = caller.get("/identity", HostProtocol.Identity.class);
    HostProtocol.Identity b = caller.get("/identity", HostProtocol.Identity.class);
    require(a.protocol() == HostProtocol.VERSION, "speaks version " + a.protocol());
    require(
        a.instance() != null && !a.instance().isBlank() && a.instance().equals(b.instance()),
        "does not name its instance, or another each time");
  }

  private void outOfSight(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    require(find(caller, "a") == null, "shows what is only prepared");
    caller.run("DELETE", number, "prepared", null);
  }

  private void applies(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"), change("b", null, "one"));
    holds(caller, "a", "one");
    Component a = there(caller, "a");
    Component b = there(caller, "b");
    applied(
        caller,
        change("a", a.revision(), "two"),
        change("b", b.revision(), null),
        change("c", null, "new"));
    holds(caller, "a", "two");
    holds(caller, "c", "new");
    require(find(caller, "b") == null, "still has what the run took away");
    require(
        !there(caller, "a").revision().equals(a.revision()),
        "keeps the revision of a document that changed");
    // back to the same text: the revision must not come again
    applied(caller, change("a", there(caller, "a").revision(), "one"));
    require(!there(caller, "a").revision().equals(a.revision()), "uses a revision a second time");
  }

  private void activation(Caller caller, Wire wire) {
    applied(
        caller,
        change("a", null, "one"),
        new Change("rule", name("b"), null, document("b", "one"), /* activate= */ true));
    require(!there(caller, "a").active(), "switches something new on by itself");
    require(there(caller, "b").active(), "does not switch on what the plan says");
    applied(caller, change("b", there(caller, "b").revision(), "two"));
    require(there(caller, "b").active(), "switches off what was on");
  }

  private void repeats(Caller caller, Wire wire) {
    long number = applied(caller, change("a", null, "one"));
    String revision = there(caller, "a").revision();
    for (int i = 0; i < 3; i++) {
      Outcome again = caller.run("POST", number, "switch", now());
      require(again.outcome().equals("applied"), "answered a repeated switch with " + again);
    }
    require(there(caller, "a").revision().equals(revision), "wrote again at a repeated switch");
    Outcome late =
        caller.run(
            "PUT", number, "prepared", new Prepare(List.of(change("a", revision, "x")), List.of()));
    require(!late.outcome().equals("prepared"), "prepares a run anew that was applied");
  }

  private void moved(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"));
    String revision = there(caller, "a").revision();
    long number = prepared(caller, change("a", revision + "-old", "two"), change("b", null, "new"));
    Outcome o = caller.run("POST", number, "switch", now());
    refused(o, "moved", "a switch over something that moved");
    require(o.details().contains("rule/" + name("a")), "does not name what moved: " + o.details());
    holds(caller, "a", "one");
    require(find(caller, "b") == null, "wrote one part of a switch that it refused");
    caller.run("DELETE", number, "prepared", null);
    long onto = prepared(caller, change("a", null, "two"));
    refused(
        caller.run("POST", onto, "switch", now()),
        "moved",
        "a switch over something that is there");
    caller.run("DELETE", onto, "prepared", null);
  }

  private void voids(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    require(
        caller.run("POST", number, "void", null).outcome().equals("void"),
        "does not make a prepared run void");
    refused(caller.run("POST", number, "switch", now()), "void", "a switch after void");
    refused(
        caller.run(
            "PUT", number, "prepared", new Prepare(List.of(change("a", null, "one")), List.of())),
        "void",
        "a prepare after void");
    require(find(caller, "a") == null, "applied a run that is void");
    require(
        caller.run("POST", number, "void", null).outcome().equals("void"),
        "says otherwise when asked a second time");
    long never = run++;
    require(
        caller.run("POST", never, "void", null).outcome().equals("void"),
        "does not make a run void that it never heard of");
    refused(
        caller.run(
            "PUT", never, "prepared", new Prepare(List.of(change("a", null, "one")), List.of())),
        "void",
        "a prepare that came after void");
  }

  private void late(Caller caller, Wire wire) throws IOException {
    long number = prepared(caller, change("a", null, "one"));
    wire.next("/runs/" + number + "/switch", Wire.Does.HOLD);
    lost(() -> caller.run("POST", number, "switch", now()));
    require(
        caller.run("POST", number, "void", null).outcome().equals("void"),
        "does not make a run void whose switch is on its way");
    wire.deliver();
    require(find(caller, "a") == null, "applied a switch that arrived after void");
  }

  private static void lost(Runnable call) {
    try {
      call.run();
    } catch (Lost e) {
      return;
    }
    throw new Failed("answered a call that was held back");
  }

  private void voidAfter(Caller caller, Wire wire) {
    long number = applied(caller, change("a", null, "one"));
    Outcome o = caller.run("POST", number, "void", null);
    require(o.outcome().equals("applied"), "says " + o + " of a run that was applied");
    holds(caller, "a", "one");
  }

  private void undoes(Caller caller, Wire wire) {
    applied(
        caller,
        new Change("rule", name("a"), null, document("a", "one"), /* activate= */ true),
        change("b", null, "one"));
    long number =
        applied(
            caller,
            change("a", there(caller, "a").revision(), "two"),
            change("b", there(caller, "b").revision(), null),
            change("c", null, "new"));
    for (int i = 0; i < 2; i++) {
      Outcome o = caller.run("POST", number, "undo", null);
      require(o.outcome().equals("undone"), "answered undo with " + o);
    }
    holds(caller, "a", "one");
    holds(caller, "b", "one");
    require(there(caller, "a").active(), "lost that it was on");
    require(find(caller, "c") == null, "keeps what the run had brought");
    require(
        caller.run("POST", number, "void", null).outcome().equals("undone"),
        "does not say undone of a run that was switched back");
    Outcome again = caller.run("POST", number, "switch", now());
    require(!again.outcome().equals("applied"), "applies a run again that was switched back");
  }

  private void touched(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"));
    long number = applied(caller, change("a", there(caller, "a").revision(), "two"));
    applied(caller, change("a", there(caller, "a").revision(), "three"));
    refused(
        caller.run("POST", number, "undo", null), "touched", "undo over something changed since");
    holds(caller, "a", "three");
  }

  private void discards(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    for (int i = 0; i < 2; i++) {
      Outcome o = caller.run("DELETE", number, "prepared", null);
      require(o.outcome().equals("discarded"), "answered discard with " + o);
    }
    Outcome o = caller.run("POST", number, "switch", now());
    require(o.outcome().equals("refused"), "switches to what was discarded: " + o);
    require(find(caller, "a") == null, "applied what was discarded");
  }

  private void busy(Caller caller, Wire wire) {
    long first = prepared(caller, change("a", null, "one"));
    Outcome o =
        caller.run(
            "PUT", run++, "prepared", new Prepare(List.of(change("b", null, "one")), List.of()));
    refused(o, "busy", "a second prepare");
    caller.run("DELETE", first, "prepared", null);
  }

  private void inputs(Caller caller, Wire wire) {
    withInput(caller);
    long give = give(caller, "x");
    require(!bound(caller), "uses a value that is only prepared");
    caller.run("POST", give, "switch", now());
    require(bound(caller), "does not keep the value of an input");
    caller.run("POST", give, "undo", null);
    require(!bound(caller), "keeps a value that was switched back");
  }

  private void inputGone(Caller caller, Wire wire) {
    withInput(caller);
    caller.run("POST", give(caller, null), "switch", now());
    require(!bound(caller), "has a value that nobody gave it");
    caller.run("POST", give(caller, "x"), "switch", now());
    long take = give(caller, null);
    require(bound(caller), "takes a value away that is only prepared to go");
    caller.run("POST", take, "switch", now());
    require(!bound(caller), "keeps a value that was taken away");
    caller.run("POST", take, "undo", null);
    require(bound(caller), "does not give back a value whose going was switched back");
    caller.run("POST", give(caller, null), "switch", now());
  }

  private void lists(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    Caller.Answer answer = caller.send("GET", "/prepared", null);
    if (answer.status() == 404) {
      caller.run("DELETE", number, "prepared", null);
      return;
    }
    require(
        answer.as(HostProtocol.PreparedRuns.class).runs().contains(number),
        "does not list what is prepared");
    caller.run("DELETE", number, "prepared", null);
    require(
        !caller
            .send("GET", "/prepared", null)
            .as(HostProtocol.PreparedRuns.class)
            .runs()
            .contains(number),
        "lists as prepared what was discarded");
  }

  /** A rule that needs a value, which nothing gives it yet. */
  private void withInput(Caller caller) {
    String text =
        document("a", "one")
            .replace(
                "\"inputs\":[]",
                "\"inputs\":[{\"description\":\"\",\"name\":\"" + INPUT + "\",\"type\":\"text\"}]");
    long number = run++;
    Change add = new Change("rule", name("a"), null, text, false);
    caller.run("PUT", number, "prepared", new Prepare(List.of(add), List.of()));
    caller.run("POST", number, "switch", now());
    require(!bound(caller), "does not say which inputs have no value");
  }

  private boolean bound(Caller caller) {
    return !there(caller, "a").unbound().contains(INPUT);
  }

  /** Prepares a value, or that there is none. */
  private long give(Caller caller, @Nullable String value) {
    long give = run++;
    gave = true;
    caller.run(
        "PUT", give, "prepared", new Prepare(List.of(), List.of(new Input(INPUT, value, true))));
    return give;
  }

  private void maintenance(Caller caller, Wire wire) {
    for (boolean on : new boolean[] {true, true, false, false}) {
      caller
          .send("PUT", "/maintenance", new HostProtocol.Maintenance(on, 0, "Conformance"))
          .as(HostProtocol.Maintenance.class);
      require(
          caller.get("/work", HostProtocol.Work.class).maintenance() == on,
          "does not show that maintenance is " + (on ? "on" : "off"));
    }
  }

  private void refreshes(Caller caller, Wire wire) {
    boolean says =
        Boolean.TRUE.equals(caller.get("/identity", HostProtocol.Identity.class).refreshes());
    for (int time = 0; time < 2; time++) {
      Caller.Answer answer = caller.send("POST", "/refresh", new HostProtocol.Refresh(1));
      if (says) {
        answer.as(HostProtocol.Refreshed.class);
      } else {
        require(answer.status() == 404, "refreshes although its identity does not say so");
      }
    }
  }

  /** What is done in a place of its own is done there alone. */
  private void apart(Caller caller, Wire wire) {
    boolean says =
        Boolean.TRUE.equals(caller.get("/identity", HostProtocol.Identity.class).spaces());
    String place = "/spaces/conformance";
    Caller.Answer made = caller.send("PUT", place, new HostProtocol.Space(false));
    if (!says) {
      require(made.status() == 404, "makes places although its identity does not say so");
      return;
    }
    made.as(Outcome.class);
    require(
        caller.get("/spaces", HostProtocol.Spaces.class).spaces().contains("conformance"),
        "does not list a place that it made");
    require(
        caller.get(place + "/identity", HostProtocol.Identity.class).marker() == null,
        "begins a place with a marker");
    HostProtocol.Inventory outside =
        caller.get("/inventory?scope=" + space, HostProtocol.Inventory.class);
    require(
        seen(caller.get(place + "/inventory?scope=" + space, HostProtocol.Inventory.class))
            .equals(seen(outside)),
        "begins a place with other definitions or revisions than it has");
    String name = name("apart");
    caller
        .send(
            "PUT",
            place + "/runs/1/prepared",
            new HostProtocol.Prepare(
                List.of(
                    new Change(
                        "rule", name, null, document("apart", "one"), /* activate= */ false)),
                List.of()))
        .as(Outcome.class);
    Outcome switched =
        caller
            .send(
                "POST",
                place + "/runs/1/switch",
                new HostProtocol.Switch("1", "conformance", "nobody", null))
            .as(Outcome.class);
    require(switched.outcome().equals("applied"), "does not switch in a place of its own");
    require(
        seen(caller.get("/inventory?scope=" + space, HostProtocol.Inventory.class))
            .equals(seen(outside)),
        "changes the host by what is done in a place of its own");
    require(
        caller
                .send("PUT", place, new HostProtocol.Space(true))
                .as(Outcome.class)
                .outcome()
                .equals("applied")
            && caller
                .get(place + "/inventory?scope=" + space, HostProtocol.Inventory.class)
                .components()
                .isEmpty(),
        "does not begin a place anew and empty");
    for (int time = 0; time < 2; time++) {
      caller.send("DELETE", place, null).as(Outcome.class);
    }
    require(
        caller.send("GET", place + "/identity", null).status() == 404,
        "answers for a place that was taken away");
  }

  private static List<String> seen(HostProtocol.Inventory all) {
    return all.components().stream()
        .map(c -> c.kind() + "/" + c.name() + " " + c.revision())
        .sorted()
        .toList();
  }

  private void announces(Caller caller, Wire wire) {
    HostProtocol.Announcement said =
        new HostProtocol.Announcement("Conformance", "2030-01-01T00:00:00Z");
    Caller.Answer answer = caller.send("PUT", "/announcement", said);
    if (answer.status() == 404) {
      return;
    }
    answer.as(HostProtocol.Announcement.class);
    require(
        said.equals(caller.get("/work", HostProtocol.Work.class).announced()),
        "does not show what it tells people");
    caller
        .send("PUT", "/announcement", new HostProtocol.Announcement("", null))
        .as(HostProtocol.Announcement.class);
    require(
        caller.get("/work", HostProtocol.Work.class).announced() == null,
        "goes on telling people what was taken back");
    caller.send("PUT", "/announcement", said).as(HostProtocol.Announcement.class);
    for (boolean on : new boolean[] {true, false}) {
      caller
          .send("PUT", "/maintenance", new HostProtocol.Maintenance(on, 0, "Conformance"))
          .as(HostProtocol.Maintenance.class);
      require(
          caller.get("/work", HostProtocol.Work.class).announced() == null,
          "tells people still that they will be kept out when they " + (on ? "are" : "were"));
    }
  }

  private void onAndOff(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"));
    String revision = there(caller, "a").revision();
    for (boolean on : new boolean[] {true, false}) {
      caller
          .send("PUT", "/activation", new HostProtocol.Activation("rule", name("a"), on))
          .as(HostProtocol.Activation.class);
      require(there(caller, "a").active() == on, "does not switch on or off");
    }
    require(
        there(caller, "a").revision().equals(revision),
        "counts switching on and off as a new document");
  }

  private void lostRequest(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    wire.next("/runs/" + number + "/switch", Wire.Does.LOSE_REQUEST);
    lost(() -> caller.run("POST", number, "switch", now()));
    require(
        caller.run("POST", number, "void", null).outcome().equals("void"),
        "says applied of a switch that never arrived");
    require(find(caller, "a") == null, "changed something by itself");
  }

  private void lostAnswer(Caller caller, Wire wire) {
    long number = prepared(caller, change("a", null, "one"));
    wire.next("/runs/" + number + "/switch", Wire.Does.LOSE_ANSWER);
    lost(() -> caller.run("POST", number, "switch", now()));
    require(
        caller.run("POST", number, "switch", now()).outcome().equals("applied"),
        "does not answer a repeated switch as the first one");
    require(
        caller.run("POST", number, "void", null).outcome().equals("applied"),
        "says void of a switch that it carried out");
    holds(caller, "a", "one");
  }

  private void mayKill() {
    if (!host.canBeKilled()) {
      throw new Failed("not tried: the host cannot be killed and started from here");
    }
  }

  private void killed(Caller caller, Wire wire) {
    mayKill();
    for (int i = 0; i < 5; i++) {
      String last = "k" + i;
      long number = prepared(caller, change(last, null, "one"));
      wire.next("/runs/" + number + "/switch", Wire.Does.KILL);
      lost(() -> caller.run("POST", number, "switch", now()));
      host.restart();
      Outcome said = caller.run("POST", number, "void", null);
      boolean there = find(caller, last) != null;
      require(
          said.outcome().equals(there ? "applied" : "void"),
          "says " + said.outcome() + " while the change is " + (there ? "" : "not ") + "there");
      require(there, "lost a change that it had begun to answer");
    }
  }

  private void remembers(Caller caller, Wire wire) {
    mayKill();
    long applied = applied(caller, change("a", null, "one"));
    long prepared = prepared(caller, change("b", null, "one"));
    caller.run("POST", prepared, "void", null);
    String instance =
        Objects.requireNonNull(caller.get("/identity", HostProtocol.Identity.class).instance());
    host.kill();
    host.restart();
    require(
        instance.equals(caller.get("/identity", HostProtocol.Identity.class).instance()),
        "is another instance after a restart");
    require(
        caller.run("POST", applied, "switch", now()).outcome().equals("applied"),
        "forgot a run that it had applied");
    refused(caller.run("POST", prepared, "switch", now()), "void", "a void run's switch");
    holds(caller, "a", "one");
  }

  private void scope(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"));
    String shorter = space.substring(0, space.length() - 1);
    require(
        caller
            .get("/inventory?scope=" + shorter, HostProtocol.Inventory.class)
            .components()
            .stream()
            .noneMatch(c -> c.name().equals(name("a"))),
        "lists " + name("a") + " for the scope \"" + shorter + "\"");
  }

  private void revisions(Caller caller, Wire wire) {
    List<String> seen = new ArrayList<>();
    applied(caller, change("a", null, "one"));
    seen.add(there(caller, "a").revision());
    long number = applied(caller, change("a", seen.get(0), "two"));
    seen.add(there(caller, "a").revision());
    caller.run("POST", number, "undo", null);
    String back = there(caller, "a").revision();
    require(!seen.contains(back), "gives what was switched back a revision that it had before");
    seen.add(back);
    applied(caller, change("a", back, null));
    applied(caller, change("a", null, "one"));
    require(
        !seen.contains(there(caller, "a").revision()),
        "gives what was taken away and came again a revision that it had before");
  }

  private void discardAfter(Caller caller, Wire wire) {
    long number = applied(caller, change("a", null, "one"));
    Outcome o = caller.run("DELETE", number, "prepared", null);
    require(o.outcome().equals("applied"), "answered discard of an applied run with " + o);
    require(
        caller.run("POST", number, "void", null).outcome().equals("applied"),
        "forgets that a run was applied when it is discarded");
    holds(caller, "a", "one");
  }

  private void notThere(Caller caller, Wire wire) {
    for (String what : List.of("/components/rule/" + name("none"), "/nothing-of-this-sort")) {
      int status = caller.send("GET", what, null).status();
      require(status == 404, "answered " + status + " to GET " + what);
    }
    int status =
        caller
            .send("PUT", "/activation", new HostProtocol.Activation("rule", name("none"), true))
            .status();
    require(status == 404, "answered " + status + " when what is not there is switched on");
    require(find(caller, "none") == null, "made what it was asked to switch on");
  }

  private void questions(Caller caller, Wire wire) {
    applied(caller, change("a", null, "one"));
    Component before = there(caller, "a");
    int status =
        caller.send("POST", "/probe", new HostProtocol.Probe("{this is no question")).status();
    require(status == 422, "answered " + status + " to a question that is no JSON");
    for (String question :
        List.of(
            "{}", "{\"rule\":\"" + name("a") + "\"}", "{\"active\":\"rule/" + name("a") + "\"}")) {
      int answered = caller.send("POST", "/probe", new HostProtocol.Probe(question)).status();
      require(
          answered == 200 || answered == 422 || answered == 404,
          "answered " + answered + " to the question " + question);
    }
    require(there(caller, "a").equals(before), "changed a definition when it was asked a question");
    holds(caller, "a", "one");
  }

  private void values(Caller caller, Wire wire) {
    withInput(caller);
    String secret = "value-" + run;
    long number = give(caller, secret);
    caller.run("POST", number, "switch", now());
    for (String what :
        List.of(
            "/identity",
            "/inventory?scope=" + space,
            "/components/rule/" + name("a"),
            "/work",
            "/runs?limit=10",
            "/prepared")) {
      require(
          !caller.send("GET", what, null).body().contains(secret),
          "shows the value of an input at " + what);
    }
    require(
        !caller.run("POST", number, "switch", now()).toString().contains(secret),
        "shows the value of an input in the outcome of its run");
  }

  /**
   * Plenzo compares digests of the text: a space, an escape or 1.10 for 1.1 is another document.
   */
  private void exactly(Caller caller, Wire wire) {
    String text =
        document("a", "one")
            .replace(
                "{\"text\":\"one\"}",
                "{ \"b\": 1.10, \"a\": \"caf\\u00e9 \u2013 \\/\",\n \"z\": [] }");
    long number = run++;
    caller.run(
        "PUT",
        number,
        "prepared",
        new Prepare(List.of(new Change("rule", name("a"), null, text, false)), List.of()));
    caller.run("POST", number, "switch", now());
    HostProtocol.Document d =
        caller.get("/components/rule/" + name("a"), HostProtocol.Document.class);
    require(d.text().equals(text), "gives a text back otherwise than it came: " + d.text());
  }

  /** Never writes a marker: it would stay. */
  private void marker(Caller caller, Wire wire) {
    HostProtocol.Marker old = caller.get("/identity", HostProtocol.Identity.class).marker();
    if (old == null) {
      throw new Failed("not tried: the host has no marker yet; adopting writes one");
    }
    Outcome other =
        caller
            .send(
                "PUT",
                "/marker",
                new HostProtocol.Marker(
                    "conformance", "conformance", "conformance", "conformance", old.since()))
            .as(Outcome.class);
    refused(other, "other", "another Plenzo's marker");
    require(
        old.equals(caller.get("/identity", HostProtocol.Identity.class).marker()),
        "took the marker of another Plenzo");
    require(
        caller.send("PUT", "/marker", old).as(Outcome.class).outcome().equals("applied"),
        "refuses the marker that it has");
  }
}
