package plenzo.engine;

import java.util.List;
import plenzo.core.check.ContentCheck;
import plenzo.core.source.Commits;
import plenzo.engine.binding.Bindings;
import plenzo.engine.checking.Checks;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.content.Contents;
import plenzo.engine.evidence.EvidenceDesk;
import plenzo.engine.hosting.Hosts;
import plenzo.engine.keeping.Retention;
import plenzo.engine.looking.Comparisons;
import plenzo.engine.looking.Drift;
import plenzo.engine.looking.History;
import plenzo.engine.looking.LeftOver;
import plenzo.engine.looking.Night;
import plenzo.engine.looking.Standing;
import plenzo.engine.looking.Verdicts;
import plenzo.engine.packaging.Keys;
import plenzo.engine.packaging.Packages;
import plenzo.engine.people.AccessKeys;
import plenzo.engine.people.Blanking;
import plenzo.engine.people.Deputies;
import plenzo.engine.people.People;
import plenzo.engine.people.Roles;
import plenzo.engine.people.SecondPerson;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Emergencies;
import plenzo.engine.promoting.Notes;
import plenzo.engine.promoting.Outside;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.promoting.Questions;
import plenzo.engine.proposing.Proposals;
import plenzo.engine.recording.Between;
import plenzo.engine.recording.Counting;
import plenzo.engine.recording.Exceptions;
import plenzo.engine.recording.Records;
import plenzo.engine.recording.Saving;
import plenzo.engine.rehearsing.Rehearsals;
import plenzo.engine.rehearsing.StructureTrial;
import plenzo.engine.releasing.Releases;
import plenzo.engine.returning.BringIn;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.returning.Together;
import plenzo.engine.running.ByItself;
import plenzo.engine.running.RunListener;
import plenzo.engine.running.Runs;
import plenzo.engine.sealing.Contained;
import plenzo.engine.sealing.Documents;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.sealing.SourceCopier;
import plenzo.engine.sealing.SourceWatch;
import plenzo.engine.sealing.Sources;
import plenzo.engine.sealing.Versions;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.Applications;
import plenzo.engine.setup.Connections;
import plenzo.engine.setup.Destinations;
import plenzo.engine.setup.Paths;
import plenzo.engine.setup.RecordsAge;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.Repositories;
import plenzo.engine.setup.Retiring;
import plenzo.engine.setup.Stages;
import plenzo.engine.setup.Targets;
import plenzo.engine.telling.Calls;
import plenzo.engine.telling.Deliveries;
import plenzo.engine.telling.Notices;
import plenzo.engine.telling.Webhooks;
import plenzo.engine.timing.Chain;
import plenzo.engine.timing.Errands;
import plenzo.engine.timing.Freezes;
import plenzo.engine.timing.Repeats;
import plenzo.engine.timing.Schedules;
import plenzo.engine.waves.InWaves;
import plenzo.packages.PackageDesk;

/** All use cases, wired. One an installation; for many threads. */
public final class Engine {
  private final Tools tools;
  private final AccessKeys accessKeys;
  private final People people;
  private final Roles roles;
  private final Deputies deputies;
  private final Stages stages;
  private final Connections connections;
  private final Paths paths;
  private final Proposals proposals;
  private final Applications applications;
  private final Retiring retiring;
  private final Repositories repositories;
  private final RecordsAge recordsAge;
  private final Adoption adoption;
  private final Sources sources;
  private final Drafts drafts;
  private final SourceWatch sourceWatch;
  private final Documents documents;
  private final Promotions promotions;
  private final Notes notes;
  private final Emergencies emergencies;
  private final Questions questions;
  private final Outside outside;
  private final BringIn bringIn;
  private final Runs runs;
  private final Releases releases;
  private final InWaves waves;
  private final EvidenceDesk evidence;
  private final Rehearsals rehearsals;
  private final Rollbacks rollbacks;
  private final Together together;
  private final Standing standing;
  private final Verdicts verdicts;
  private final Drift drift;
  private final LeftOver leftOver;
  private final Comparisons comparisons;
  private final History history;
  private final Versions versions;
  private final Contents contents;
  private final Contained contained;
  private final Comparer comparer;
  private final Bindings bindings;
  private final Hosts hosts;
  private final Keys keys;
  private final Freezes freezes;
  private final Webhooks webhooks;
  private final Deliveries deliveries;
  private final Calls calls;
  private final Night night;
  private final Records records;
  private final Exceptions exceptions;
  private final Counting counting;
  private final SourceCopier copies;
  private final Saving saving;
  private final Blanking blanking;
  private final Between between;
  private final Retention retention;
  private final Notices notices;
  private final Schedules schedules;
  private final Errands errands;
  private final Chain chain;
  private final Repeats repeats;
  private final Packages packages;

  /**
   * @param added checks of content beside those that every Plenzo has
   */
  public Engine(
      Tools tools,
      People.PasswordHasher hasher,
      Destinations destinations,
      PackageDesk desk,
      Commits commits,
      List<ContentCheck> added,
      RunListener listener) {
    this.tools = tools;
    Targets targets = new Targets(tools, destinations);
    this.contents = new Contents(tools);
    this.comparer = new Comparer(tools);
    this.bindings = new Bindings(tools, contents);
    Checks checks = new Checks(contents, added);
    CaseWork work = new CaseWork(tools, targets, contents, comparer, bindings, checks);
    this.hosts = new Hosts(tools, targets);
    this.retention = new Retention(tools);
    this.keys = new Keys(tools);
    this.packages = new Packages(tools, contents, desk, keys);
    SecondPerson second = new SecondPerson(tools);
    this.accessKeys = new AccessKeys(tools);
    this.people = new People(tools, hasher, accessKeys, second);
    this.blanking = new Blanking(tools, second);
    this.roles = new Roles(tools, second);
    this.deputies = new Deputies(tools);
    this.connections = new Connections(tools, destinations);
    this.applications = new Applications(tools, second);
    this.retiring = new Retiring(tools);
    this.repositories = new Repositories(tools, destinations, commits);
    this.recordsAge = new RecordsAge(tools, targets);
    Renames renames = new Renames(tools, targets, contents);
    this.adoption = new Adoption(tools, targets, contents, renames);
    this.sources = new Sources(tools, targets, contents, commits, renames);
    this.documents = new Documents(tools, contents, adoption, sources);
    this.drafts = new Drafts(tools, contents, adoption, renames, sources, checks);
    this.copies = new SourceCopier(tools, documents, sources);
    this.sourceWatch = new SourceWatch(tools, sources, drafts);
    this.promotions = new Promotions(tools, work);
    this.stages = new Stages(tools, second, checks.names(), promotions::judgeThoseTo);
    this.paths = new Paths(tools, second, promotions::judgeThoseBy);
    this.proposals = new Proposals(tools, people, blanking, roles, stages, paths, applications);
    this.notes = new Notes(tools, promotions);
    this.emergencies = new Emergencies(tools, promotions);
    this.questions = new Questions(tools, promotions);
    this.outside = new Outside(tools, targets, promotions, keys);
    this.bringIn = new BringIn(targets, contents, promotions);
    this.runs = new Runs(tools, targets, work, promotions, emergencies, listener);
    this.releases = new Releases(tools, promotions, runs);
    this.freezes = new Freezes(tools, promotions::settleThoseTo);
    this.schedules = new Schedules(tools, promotions, runs);
    this.errands = new Errands(tools, promotions, runs);
    this.chain = new Chain(tools, errands);
    this.repeats = new Repeats(tools, errands);
    this.webhooks = new Webhooks(tools);
    this.deliveries = new Deliveries(tools, targets);
    this.rollbacks = new Rollbacks(tools, work, promotions);
    this.waves = new InWaves(tools, promotions, runs);
    promotions.trying(new StructureTrial(tools, targets)::of);
    this.rehearsals = new Rehearsals(tools, targets, work, promotions, drafts);
    this.evidence = new EvidenceDesk(tools, runs, promotions);
    ByItself byItself = new ByItself(tools, runs, rollbacks::byItself);
    runs.afterEach(
        () -> {
          releases.goOn();
          byItself.goOn();
          waves.goOn();
        });
    this.together = new Together(tools, rollbacks);
    this.standing = new Standing(tools, promotions, sourceWatch);
    this.verdicts = new Verdicts(tools, promotions);
    this.drift = new Drift(tools, targets, contents, comparer);
    this.leftOver = new LeftOver(tools, targets);
    this.comparisons = new Comparisons(tools, targets, contents, comparer);
    this.history = new History(tools, targets, keys);
    this.records = new Records(tools, promotions, releases, work, history);
    this.saving = new Saving(tools, records, evidence, keys, desk);
    this.exceptions = new Exceptions(tools, history, runs);
    this.counting = new Counting(tools, runs);
    this.night = new Night(tools, runs, rollbacks);
    this.notices = new Notices(tools, history, targets);
    this.calls = new Calls(tools, deliveries);
    this.versions = new Versions(tools, contents);
    this.between = new Between(tools, standing, versions, history);
    this.contained = new Contained(tools, adoption, sources, versions);
  }

  public Tools tools() {
    return tools;
  }

  public Webhooks webhooks() {
    return webhooks;
  }

  public Deliveries deliveries() {
    return deliveries;
  }

  /** Documents of promotions and releases. */
  public Records records() {
    return records;
  }

  public Exceptions exceptions() {
    return exceptions;
  }

  public Retention retention() {
    return retention;
  }

  public SourceCopier copies() {
    return copies;
  }

  public Blanking blanking() {
    return blanking;
  }

  public Saving saving() {
    return saving;
  }

  public Between between() {
    return between;
  }

  public Counting counting() {
    return counting;
  }

  public Night night() {
    return night;
  }

  public Calls calls() {
    return calls;
  }

  public Notices notices() {
    return notices;
  }

  public Freezes freezes() {
    return freezes;
  }

  public Schedules schedules() {
    return schedules;
  }

  public Errands errands() {
    return errands;
  }

  public Repeats repeats() {
    return repeats;
  }

  public Chain chain() {
    return chain;
  }

  public AccessKeys accessKeys() {
    return accessKeys;
  }

  public People people() {
    return people;
  }

  public Roles roles() {
    return roles;
  }

  public Deputies deputies() {
    return deputies;
  }

  public Stages stages() {
    return stages;
  }

  public Connections connections() {
    return connections;
  }

  public Paths paths() {
    return paths;
  }

  public Proposals proposals() {
    return proposals;
  }

  public Applications applications() {
    return applications;
  }

  public Retiring retiring() {
    return retiring;
  }

  public Repositories repositories() {
    return repositories;
  }

  public RecordsAge recordsAge() {
    return recordsAge;
  }

  public Adoption adoption() {
    return adoption;
  }

  public Sources sources() {
    return sources;
  }

  public Documents documents() {
    return documents;
  }

  public SourceWatch sourceWatch() {
    return sourceWatch;
  }

  public Drafts drafts() {
    return drafts;
  }

  public BringIn bringIn() {
    return bringIn;
  }

  public Emergencies emergencies() {
    return emergencies;
  }

  public Outside outside() {
    return outside;
  }

  public Questions questions() {
    return questions;
  }

  public Notes notes() {
    return notes;
  }

  public Promotions promotions() {
    return promotions;
  }

  public Runs runs() {
    return runs;
  }

  public Releases releases() {
    return releases;
  }

  public EvidenceDesk evidence() {
    return evidence;
  }

  public Rehearsals rehearsals() {
    return rehearsals;
  }

  public InWaves waves() {
    return waves;
  }

  public Rollbacks rollbacks() {
    return rollbacks;
  }

  public Together together() {
    return together;
  }

  public Standing standing() {
    return standing;
  }

  public Verdicts verdicts() {
    return verdicts;
  }

  public LeftOver leftOver() {
    return leftOver;
  }

  public Drift drift() {
    return drift;
  }

  public Comparisons comparisons() {
    return comparisons;
  }

  public History history() {
    return history;
  }

  public Contents contents() {
    return contents;
  }

  public Contained contained() {
    return contained;
  }

  public Versions versions() {
    return versions;
  }

  public Bindings bindings() {
    return bindings;
  }

  public Keys keys() {
    return keys;
  }

  public Packages packages() {
    return packages;
  }

  public Hosts hosts() {
    return hosts;
  }

  public Comparer comparer() {
    return comparer;
  }
}
