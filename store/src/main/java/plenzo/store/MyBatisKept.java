package plenzo.store;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.apache.ibatis.exceptions.PersistenceException;
import org.apache.ibatis.session.SqlSession;
import plenzo.core.calendar.Errand;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Repeat;
import plenzo.core.calendar.Schedule;
import plenzo.core.evidence.Evidence;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.keeping.VersionShelf;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Role;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Release;
import plenzo.core.promotion.Waves;
import plenzo.core.proposal.Proposal;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.retention.Keeping;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.JournalEntry.Type;
import plenzo.core.run.Run;
import plenzo.core.source.SourceCopies;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Application;
import plenzo.core.stage.Binding;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.target.TargetId;
import plenzo.core.telling.Call;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Following;
import plenzo.core.telling.Webhook;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.Draft;
import plenzo.core.version.VersionHead;
import plenzo.store.MyBatisShelf.Description;

/** The records inside one MyBatis session. */
final class MyBatisKept implements Kept {
  private static final Description<Person> PERSON =
      Description.of(Person.class, Person::login, Person::revision);
  private static final Description<AccessKey> ACCESS_KEY =
      Description.of(AccessKey.class, AccessKey::hash, AccessKey::revision)
          .state(AccessKey::login)
          .at(k -> k.token() ? EventMapper.TOKEN : EventMapper.SESSION, k -> null);
  private static final Description<Role> ROLE =
      Description.of(Role.class, Role::key, Role::revision);
  private static final Description<Stage> STAGE =
      Description.of(Stage.class, Stage::key, Stage::revision).upgraded(Upgrades.STAGE);
  private static final Description<Connection> CONNECTION =
      Description.of(Connection.class, Connection::id, Connection::revision)
          .at(Connection::stage, c -> null);
  private static final Description<Secret> SECRET =
      Description.of(Secret.class, Secret::id, Secret::revision);
  private static final Description<Path> PATH =
      Description.of(Path.class, Path::key, Path::revision).upgraded(Upgrades.PATH);
  private static final Description<Application> APPLICATION =
      Description.of(Application.class, Application::key, Application::revision)
          .upgraded(Upgrades.APPLICATION);
  private static final Description<VersionHead> VERSION =
      Description.of(VersionHead.class, VersionHead::ref, v -> 1)
          .application(VersionHead::application);
  private static final Description<MyBatisVersions.Entries> VERSION_ENTRIES =
      Description.of(MyBatisVersions.Entries.class, MyBatisVersions.Entries::id, e -> 1);
  private static final Description<Draft> DRAFT =
      Description.of(Draft.class, Draft::id, Draft::revision)
          .application(Draft::application)
          .state(d -> d.state().code())
          .upgraded(Upgrades.DRAFT);
  private static final Description<SiteRecord> SITE =
      Description.of(SiteRecord.class, SiteRecord::id, SiteRecord::revision)
          .application(SiteRecord::application)
          .at(s -> s.site().stage(), s -> s.site().site())
          .upgraded(Upgrades.SITE);
  private static final Description<Promotion> PROMOTION =
      Description.of(Promotion.class, p -> String.valueOf(p.number()), Promotion::revision)
          .application(Promotion::application)
          .at(p -> p.site().stage(), p -> p.site().site())
          .state(p -> p.state().code())
          .upgraded(Upgrades.PROMOTION);
  private static final Description<Run> RUN =
      Description.of(Run.class, r -> String.valueOf(r.number()), Run::revision)
          .application(Run::application)
          .at(r -> r.site().stage(), r -> r.site().site())
          .state(r -> r.state().code())
          .upgraded(Upgrades.RUN);
  private static final Description<Capture> CAPTURE =
      Description.of(Capture.class, Capture::id, Capture::revision);
  private static final Description<Binding> BINDING =
      Description.of(Binding.class, Binding::id, Binding::revision)
          .application(Binding::application)
          .at(Binding::stage, b -> null);
  private static final Description<Signer> SIGNER =
      Description.of(Signer.class, Signer::id, Signer::revision);
  private static final Description<Parcel> PARCEL =
      Description.of(Parcel.class, Parcel::id, Parcel::revision)
          .application(Parcel::application)
          .upgraded(Upgrades.PARCEL);
  private static final Description<SourceRecord> SOURCE =
      Description.of(SourceRecord.class, SourceRecord::application, SourceRecord::revision)
          .application(SourceRecord::application);
  private static final Description<Release> RELEASE =
      Description.of(Release.class, Release::key, Release::revision);
  private static final Description<Waves> WAVES =
      Description.of(Waves.class, w -> String.valueOf(w.number()), Waves::revision)
          .application(Waves::application)
          .at(Waves::stage, w -> null)
          .state(w -> w.state().code());
  private static final Description<Evidence> EVIDENCE =
      Description.of(Evidence.class, e -> String.valueOf(e.number()), Evidence::revision)
          .application(Evidence::application)
          .at(e -> e.site().stage(), e -> e.site().site());
  private static final Description<Rehearsal> REHEARSAL =
      Description.of(Rehearsal.class, r -> String.valueOf(r.number()), Rehearsal::revision)
          .application(Rehearsal::application)
          .at(r -> r.site().stage(), r -> r.site().site())
          .state(r -> r.result().code());
  private static final Description<Proposal> PROPOSAL =
      Description.of(Proposal.class, p -> String.valueOf(p.number()), Proposal::revision)
          .state(p -> p.state().code());
  private static final Description<Freeze> FREEZE =
      Description.of(Freeze.class, f -> String.valueOf(f.number()), Freeze::revision)
          .at(Freeze::stage, f -> null);
  private static final Description<Schedule> SCHEDULE =
      Description.of(Schedule.class, s -> String.valueOf(s.number()), Schedule::revision)
          .application(Schedule::application)
          .at(s -> s.site().stage(), s -> s.site().site())
          .state(s -> s.state().code());
  private static final Description<Repeat> REPEAT =
      Description.of(Repeat.class, r -> String.valueOf(r.number()), Repeat::revision)
          .application(Repeat::application)
          .at(Repeat::stage, r -> null)
          .state(r -> r.state().code());
  private static final Description<Errand> ERRAND =
      Description.of(Errand.class, e -> String.valueOf(e.number()), Errand::revision)
          .application(Errand::application)
          .at(e -> e.site().stage(), e -> e.site().site())
          .state(e -> e.state().code());
  private static final Description<Webhook> WEBHOOK =
      Description.of(Webhook.class, Webhook::name, Webhook::revision);
  private static final Description<Delivery> DELIVERY =
      Description.of(Delivery.class, d -> String.valueOf(d.number()), Delivery::revision)
          .state(d -> d.state().code());
  private static final Description<Following> FOLLOWING =
      Description.of(Following.class, Following::login, Following::revision);
  private static final Description<CallOrder> CALL_ORDER =
      Description.of(CallOrder.class, CallOrder::stage, CallOrder::revision);
  private static final Description<Call> SUMMONS =
      Description.of(Call.class, c -> String.valueOf(c.number()), Call::revision)
          .application(Call::application)
          .at(Call::stage, Call::site)
          .state(c -> c.state().code());
  private static final Description<Keeping> KEEPING =
      Description.of(Keeping.class, Keeping::id, Keeping::revision).state(n -> n.state().code());
  private static final Description<SourceCopies> SOURCE_COPIES =
      Description.of(SourceCopies.class, SourceCopies::application, SourceCopies::revision)
          .application(SourceCopies::application);
  private static final Description<Answered> ANSWERED =
      Description.of(Answered.class, Answered::id, Answered::revision);

  private final SqlSession session;
  private final Touched touched;
  private final NamesCache names;
  private final ReadBefore before;

  /**
   * @param touched is told whose records are written
   * @param before what was read of these records before
   */
  MyBatisKept(SqlSession session, Touched touched, NamesCache names, ReadBefore before) {
    this.session = session;
    this.names = names;
    this.before = before;
    this.touched = touched;
  }

  private RecordMapper records() {
    return session.getMapper(RecordMapper.class);
  }

  private <T> Shelf<T> shelf(Table table, Description<T> description) {
    return new MyBatisShelf<>(records(), table, description, touched, before);
  }

  @Override
  public Shelf<Person> people() {
    return peopleSigned();
  }

  private MyBatisPeople peopleSigned() {
    return new MyBatisPeople(records(), events(), PERSON, touched, before);
  }

  /** Gives everybody's names a sign who was there before there were signs. */
  void signEverybody() {
    MyBatisPeople all = peopleSigned();
    all.all().forEach(all::sign);
  }

  @Override
  public Blanked blank(String login, String as) {
    touched.note();
    for (Table t : Table.values()) {
      touched.by(t, null);
    }
    applications().all().forEach(a -> touched.by(Table.PROMOTION, a.key()));
    before.forget();
    return new Blanking(records(), events()).blank(login, as);
  }

  @Override
  public Names names() {
    return names.get(events());
  }

  @Override
  public Shelf<AccessKey> accessKeys() {
    return shelf(Table.ACCESS_KEY, ACCESS_KEY);
  }

  @Override
  public Shelf<Role> roles() {
    return shelf(Table.ROLE, ROLE);
  }

  @Override
  public Shelf<Stage> stages() {
    return shelf(Table.STAGE, STAGE);
  }

  @Override
  public Shelf<Connection> connections() {
    return shelf(Table.CONNECTION, CONNECTION);
  }

  @Override
  public Shelf<Secret> secrets() {
    return shelf(Table.SECRET, SECRET);
  }

  @Override
  public Shelf<Path> paths() {
    return shelf(Table.PATH, PATH);
  }

  @Override
  public Shelf<Application> applications() {
    return shelf(Table.APPLICATION, APPLICATION);
  }

  @Override
  public VersionShelf versions() {
    return new MyBatisVersions(
        new MyBatisShelf<>(records(), Table.VERSION, VERSION, touched, before),
        shelf(Table.VERSION_ENTRIES, VERSION_ENTRIES));
  }

  @Override
  public Shelf<Draft> drafts() {
    return shelf(Table.DRAFT, DRAFT);
  }

  @Override
  public Shelf<SiteRecord> sites() {
    return shelf(Table.SITE_RECORD, SITE);
  }

  @Override
  public MyBatisPromotions promotions() {
    return new MyBatisPromotions(records(), PROMOTION, touched, before);
  }

  @Override
  public MyBatisRuns runs() {
    return new MyBatisRuns(records(), RUN, touched, before);
  }

  @Override
  public Shelf<Capture> captures() {
    return shelf(Table.CAPTURE, CAPTURE);
  }

  @Override
  public Shelf<Binding> bindings() {
    return shelf(Table.BINDING, BINDING);
  }

  @Override
  public Shelf<Signer> signers() {
    return shelf(Table.SIGNER, SIGNER);
  }

  @Override
  public Shelf<Parcel> parcels() {
    return shelf(Table.PARCEL, PARCEL);
  }

  @Override
  public Shelf<SourceRecord> sources() {
    return shelf(Table.SOURCE_RECORD, SOURCE);
  }

  @Override
  public Shelf<Release> releases() {
    return shelf(Table.RELEASE, RELEASE);
  }

  @Override
  public Shelf<Waves> waves() {
    return shelf(Table.WAVES, WAVES);
  }

  @Override
  public Shelf<Evidence> evidence() {
    return shelf(Table.EVIDENCE, EVIDENCE);
  }

  @Override
  public Shelf<Rehearsal> rehearsals() {
    return shelf(Table.REHEARSAL, REHEARSAL);
  }

  @Override
  public Shelf<Webhook> webhooks() {
    return shelf(Table.WEBHOOK, WEBHOOK);
  }

  @Override
  public Shelf<Delivery> deliveries() {
    return shelf(Table.DELIVERY, DELIVERY);
  }

  @Override
  public Shelf<Freeze> freezes() {
    return shelf(Table.FREEZE, FREEZE);
  }

  @Override
  public Shelf<Following> followings() {
    return shelf(Table.FOLLOWING, FOLLOWING);
  }

  @Override
  public Shelf<CallOrder> callOrders() {
    return shelf(Table.CALL_ORDER, CALL_ORDER);
  }

  @Override
  public Shelf<Call> calls() {
    return shelf(Table.SUMMONS, SUMMONS);
  }

  @Override
  public Shelf<Repeat> repeats() {
    return shelf(Table.REPEAT, REPEAT);
  }

  @Override
  public Shelf<Errand> errands() {
    return shelf(Table.ERRAND, ERRAND);
  }

  @Override
  public Shelf<Schedule> schedules() {
    return shelf(Table.SCHEDULE, SCHEDULE);
  }

  @Override
  public Shelf<Proposal> proposals() {
    return shelf(Table.PROPOSAL, PROPOSAL);
  }

  @Override
  public Shelf<Keeping> keepings() {
    return shelf(Table.KEEPING, KEEPING);
  }

  @Override
  public Shelf<SourceCopies> copies() {
    return shelf(Table.SOURCE_COPIES, SOURCE_COPIES);
  }

  @Override
  public Shelf<Answered> answered() {
    return shelf(Table.ANSWERED, ANSWERED);
  }

  private EventMapper events() {
    return session.getMapper(EventMapper.class);
  }

  @Override
  public long next(String series) {
    EventMapper events = events();
    if (events.count(series) == 0) {
      try {
        events.startCounting(series);
      } catch (PersistenceException e) {
        // another transaction began the series meanwhile, and has committed
        if (events.count(series) == 0) {
          throw e;
        }
      }
    }
    return events.counted(series);
  }

  @Override
  public long last(String series) {
    return events().last(series);
  }

  @Override
  public void raise(String series, long atLeast) {
    while (last(series) < atLeast) {
      next(series);
      events().raise(series, atLeast);
    }
  }

  @Override
  public Optional<String> fact(String name) {
    return Optional.ofNullable(events().fact(name));
  }

  @Override
  public void fact(String name, String text) {
    events().removeFact(name);
    events().insertFact(name, text);
  }

  @Override
  public Anchor head() {
    EventMapper.HeadRow head = events().headNow();
    return new Anchor(head.sequence(), head.hash());
  }

  @Override
  public HistoryEntry note(HistoryEntry.Event event, Instant at) {
    EventMapper events = events();
    touched.note();
    EventMapper.HeadRow head = events.head();
    HistoryEntry e = HistoryEntry.after(head.sequence() + 1, head.hash(), at, event, names());
    events.insertHistory(
        new EventMapper.HistoryRow(
            e.sequence(),
            e.at().atOffset(ZoneOffset.UTC),
            e.actor(),
            e.event(),
            e.application(),
            e.stage(),
            e.site(),
            e.version(),
            e.promotion(),
            e.run(),
            e.text(),
            e.before(),
            e.hash(),
            e.chained() == null ? null : e.chained().actor(),
            e.chained() == null ? null : e.chained().text()));
    if (events.moveHead(e.sequence(), e.hash(), head.sequence()) != 1) {
      throw new IllegalStateException("The head of the history moved under its lock");
    }
    return e;
  }

  @Override
  public Slice<HistoryEntry> history(HistoryFilter filter, HistorySight who) {
    List<EventMapper.HistoryRow> found = new ArrayList<>();
    HistoryFilter oneMore = filter.most(filter.limit() + 1);
    List<HistoryLens> lenses = HistoryLens.of(who);
    for (HistoryLens lens : lenses) {
      found.addAll(events().history(oneMore, lens));
    }
    if (lenses.size() > 1) {
      found.sort(Comparator.comparingLong(EventMapper.HistoryRow::sequence).reversed());
      Parts.distinct(found, EventMapper.HistoryRow::sequence);
    }
    return Parts.cut(found, filter.limit(), EventMapper.HistoryRow::sequence)
        .map(MyBatisKept::entry);
  }

  private static HistoryEntry entry(EventMapper.HistoryRow r) {
    return new HistoryEntry(
        r.sequence(),
        r.at().toInstant(),
        r.actor(),
        r.event(),
        r.application(),
        r.stage(),
        r.site(),
        r.version(),
        r.promotion(),
        r.run(),
        r.text(),
        r.before(),
        r.hash(),
        r.chainedActor() == null || r.chainedText() == null
            ? null
            : new HistoryEntry.Chained(r.chainedActor(), r.chainedText()));
  }

  @Override
  public JournalEntry journal(JournalEntry entry) {
    EventMapper events = events();
    long sequence = events.nextJournal();
    TargetId target = entry.target();
    Outcome outcome = entry.outcome();
    events.insertJournal(
        new EventMapper.JournalRow(
            sequence,
            entry.run(),
            entry.deed().code(),
            entry.attempt(),
            entry.type().name(),
            target == null ? "" : target.text(),
            outcome == null ? null : outcome.code(),
            entry.session(),
            entry.text(),
            entry.at().atOffset(ZoneOffset.UTC),
            EventMapper.JOURNAL_FORMAT));
    return new JournalEntry(
        sequence,
        entry.run(),
        entry.deed(),
        entry.attempt(),
        entry.type(),
        target,
        outcome,
        entry.session(),
        entry.text(),
        entry.at());
  }

  @Override
  public int forget(Instant answers, Instant sessions, Instant tokens) {
    EventMapper events = events();
    return events.forgetAnswers(answers.atOffset(ZoneOffset.UTC))
        + events.forgetKeys(EventMapper.SESSION, sessions.atOffset(ZoneOffset.UTC))
        + events.forgetKeys(EventMapper.TOKEN, tokens.atOffset(ZoneOffset.UTC));
  }

  @Override
  public Journal journal(long run) {
    return new Journal(events().journal(run).stream().map(MyBatisKept::entry).toList());
  }

  private static JournalEntry entry(EventMapper.JournalRow r) {
    boolean early = r.format() < EventMapper.JOURNAL_FORMAT;
    Type type = Type.valueOf(r.type());
    String target = early ? Upgrades.target(r.target()) : r.target();
    return new JournalEntry(
        r.sequence(),
        r.run(),
        Deed.of(r.step()),
        r.attempt(),
        type,
        target == null || target.isEmpty() ? null : new TargetId(target),
        type == Type.INTENT
            ? null
            : early ? Upgrades.outcome(r.text()) : Outcome.of(String.valueOf(r.outcome())),
        r.session(),
        r.text(),
        r.at().toInstant());
  }
}
